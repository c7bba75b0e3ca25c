# frozen_string_literal: true

module Loomshuttle
  module Server
    module Links
      # The server's line to engine or deck: requests, and the newest of what it tells. Either
      # side may go and come back at any time; what was heard last is kept with its time, for it
      # is old then, not untrue.
      #
      #   engine = ControlLink.new(path, who: "the audio engine")
      #   engine.ask(do: "status")
      #   engine.heard        # => {"status" => ..., "meters" => ...} or nil
      #   engine.silent_s     # => nil while it speaks, else seconds since it did
      class ControlLink
        RETRY_S = 0.5
        # Frames come ten or twenty times a second; an engine that says nothing for so long hangs.
        STILL_S = 1.5
        private_constant :RETRY_S, :STILL_S

        # @return [Hash, nil] the newest frame, string keys; nil before the first
        attr_reader :heard

        # @param path [String] of the socket
        def initialize(path, who:)
          @client = Runtime::LineClient.new(path, who: who)
          @frame = -> {}
          @connections = 0
          Runtime::Loop.start("line to #{who}", retry_s: RETRY_S) { listen }
        end

        # @yield from now on after each frame, and when the line broke
        def on_frame(&frame) = @frame = frame

        # Grows with each connection: whoever keeps something of the other side's looks again.
        attr_reader :connections

        # @return [Float, nil]
        def silent_s
          return 0.0 unless @heard_s

          passed_s = now_s - @heard_s
          passed_s if @broken || passed_s > STILL_S
        end

        def answers? = !@heard_s.nil? && silent_s.nil?

        # @return [Hash, nil] what it said last of `name`, string keys
        def last(name) = @heard && @heard[name]

        # @raise [BadInput] what was refused
        # @raise [Runtime::Gone]
        def ask(request = {}, **more) = @client.ask(request, **more)

        private

        def listen
          @client.follow do |frame|
            @connections += 1 if @broken.nil? || @broken
            @broken = false
            @heard_s = now_s
            @heard = frame
            @frame.call
          end
        rescue Runtime::Gone
          @broken = true
          @frame.call
          sleep RETRY_S
        end

        def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      end
    end
  end
end

# frozen_string_literal: true

require "socket"

module Loomshuttle
  module Server
    module Links
      # The server's line to the audio engine: one connection for requests, one that brings
      # meters and status 20 times a second. Either may break and come back at any time.
      class EngineLink
        ANSWER_S = 10
        RETRY_S = 0.5
        private_constant :ANSWER_S, :RETRY_S

        # The engine does not answer.
        class Gone < StandardError; end

        attr_reader :status, :meters

        # @yield after every frame of meters and status, and when the line breaks
        def initialize(port:, &frame)
          @port = port
          @frame = frame
          @lock = Mutex.new
          Thread.new { listen }
        end

        def answers? = !@status.nil?

        # @param request [Hash] with :do
        # @return [Object] the answer
        # @raise [BadInput] what the engine refused
        # @raise [Gone]
        def ask(request)
          answer = @lock.synchronize { exchange(request) }
          fault = answer["error"] or return answer["ok"]
          raise BadInput.new(field: fault["field"], value: fault["value"], allowed: fault["allowed"])
        end

        private

        def exchange(request)
          @line ||= TCPSocket.new("127.0.0.1", @port)
          @line.write(JSON.generate(request) + "\n")
          @line.wait_readable(ANSWER_S) or raise IOError, "no answer in #{ANSWER_S} s"
          JSON.parse(@line.gets || raise(IOError, "the line is closed"))
        rescue SystemCallError, IOError => e
          @line&.close
          @line = nil
          raise Gone, "the audio engine does not answer (#{e.message})"
        end

        def listen
          loop do
            follow(TCPSocket.new("127.0.0.1", @port))
          rescue SystemCallError, IOError, JSON::ParserError
            @status = @meters = nil
            @frame.call
            sleep RETRY_S
          end
        end

        def follow(line)
          line.write(JSON.generate(do: "subscribe") + "\n")
          while (text = line.gets)
            frame = JSON.parse(text)
            next unless frame.key?("status")

            @status, @meters = frame.values_at("status", "meters")
            @frame.call
          end
          raise IOError, "the line is closed"
        ensure
          line.close
        end
      end
    end
  end
end

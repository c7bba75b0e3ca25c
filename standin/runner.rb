# frozen_string_literal: true

module Loomshuttle
  module Standin
    # The simulated desk and stage as a process: a block every block's time, on the clock.
    class Runner
      BLOCK_FRAMES = 1024
      # Meter frames go out every second or third block: about 20 a second.
      METER_BLOCKS = 2
      # Arrays of samples are not in the collector's accounts: left alone it would let a hundred
      # megabytes of them pile up. A young collection takes a few ms.
      COLLECT_BLOCKS = 64
      # A desk's memory is written at most once in so many seconds.
      SAVE_S = 1
      private_constant :METER_BLOCKS, :COLLECT_BLOCKS, :SAVE_S

      # @param show [Show] rig and patch to begin with
      # @param card_path [String] of the socket that is the desk's card
      # @param wire_log [String, nil] a file that gets every block of card sends as it goes
      #   out, for proving recordings against it
      # @param state_path [String, nil] where the desk keeps its state over a restart
      # @param kept_in [String, nil] see Band
      # @param speed [Float] seconds of the desk's clock in one second: a rehearsal may be over sooner
      def initialize(show, card_path:, control_port:, codec:, wire_log: nil, state_path: nil, kept_in: nil, speed: 1.0)
        @kept_in = kept_in
        @speed = speed
        @card_path = card_path
        @state_path = state_path
        @console = Console.new(show)
        @log = wire_log && File.open(wire_log, "wb")
        set_up
        @control = ControlPort.new(@console, port: control_port, codec: codec) { changed }
      end

      def run
        Runtime::Loop.start("desk memory", pause_s: SAVE_S) { keep_state } if @state_path
        loop do
          play
          set_up
        end
      end

      private

      # Plays block by block until a desk with another card, or another sample rate, stands
      # there: then it goes off and comes back as that one, and the computer has to connect anew.
      def play
        start_s = now
        (0..).each do |block|
          wait_until(start_s + block * BLOCK_FRAMES / (@rate_hz * @speed))
          cycle(block)
          break if @shape != shape || @rate_hz != @console.show.sample_rate_hz
        end
      end

      def set_up
        @audio&.close
        make_sounds(@console.show.sample_rate_hz) unless @rate_hz == @console.show.sample_rate_hz
        @shape = shape
        @audio = AudioPort.new(path: @card_path, rate_hz: @rate_hz, lanes: @shape.last, block_frames: BLOCK_FRAMES)
        @desk = Desk.new(@band, frames: BLOCK_FRAMES).tap { |desk| desk.routing = Routing.new(@console, @sounds) }
      end

      def make_sounds(rate_hz)
        @rate_hz = rate_hz
        @band = Band.new(sample_rate_hz: rate_hz, kept_in: @kept_in)
        @sounds = Stage::Sounds.new(rate_hz)
      end

      def shape = [BLOCK_FRAMES, @console.card_lanes]

      def cycle(block)
        bytes = @desk.process(block * BLOCK_FRAMES, returned).to_binary
        @audio.give(bytes)
        @log&.write([block].pack("Q<"), bytes)
        bytes.clear
        @control.send_meters(@desk.peaks) if block % METER_BLOCKS == 0
        GC.start(full_mark: false) if block % COLLECT_BLOCKS == 0
      end

      # @return [Numo::Int32, nil] what the computer plays; nil for silence, which is most of the time
      def returned
        bytes = @audio.take
        Numo::Int32.from_binary(bytes, @shape) unless bytes.nil? || bytes == @audio.silence
      ensure
        bytes&.clear
      end

      # A desk of another shape is set up by the block loop, between two blocks.
      def changed
        @desk.routing = Routing.new(@console, @sounds) if @shape == shape
        @unsaved = true
      end

      # A desk's memory is written on a thread of its own, at most once a second: a push of a
      # hundred slots must not make blocks late.
      def keep_state
        return unless @unsaved

        @unsaved = false
        File.write("#{@state_path}.new", JSON.generate(Exchange::ShowFile.data(@console.show)))
        File.rename("#{@state_path}.new", @state_path)
      end

      def wait_until(at_s)
        left = at_s - now
        sleep(left) if left > 0
      end

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Standin
    # The simulated desk and stage as a process: a block every block's time, on the clock.
    class Runner
      BLOCK_FRAMES = 1024
      # Meter frames go out every second or third block: about 20 a second.
      METER_BLOCKS = 2
      private_constant :METER_BLOCKS

      # @param show [Show] rig and patch to begin with
      # @param wire_log [String, nil] a file that gets every block of card sends as it goes
      #   out, for proving recordings against it
      # @param state_path [String, nil] where the desk keeps its state over a restart
      def initialize(show, audio_port:, control_port:, wire_log: nil, state_path: nil)
        @rate_hz = show.sample_rate_hz
        @state_path = state_path
        @console = Console.new(show)
        @band = Band.new(sample_rate_hz: @rate_hz)
        @desk = Desk.new(@band, frames: BLOCK_FRAMES)
        @desk.routing = Routing.new(@console)
        lanes = show.rig.first_of("desk").family("card-send").count
        @audio = AudioPort.new(port: audio_port, rate_hz: @rate_hz, lanes: lanes, block_frames: BLOCK_FRAMES)
        @control = ControlPort.new(@console, port: control_port) { changed }
        @log = wire_log && File.open(wire_log, "wb")
        @shape = [BLOCK_FRAMES, lanes]
      end

      def run
        start_s = now
        (0..).each do |block|
          wait_until(start_s + block * BLOCK_FRAMES / @rate_hz.to_f)
          cycle(block)
        end
      end

      private

      def cycle(block)
        returns = Numo::Int32.from_binary(@audio.take || @audio.silence, @shape)
        bytes = @desk.process(block * BLOCK_FRAMES, returns).to_binary
        @audio.give(bytes)
        @log&.write([block].pack("Q<"), bytes)
        @control.send_meters(@desk.peaks) if block % METER_BLOCKS == 0
      end

      def changed
        @desk.routing = Routing.new(@console)
        return unless @state_path

        File.write("#{@state_path}.new", JSON.generate(Exchange::ShowFile.patch_data(@console.show.patch)))
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

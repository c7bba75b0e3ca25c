# frozen_string_literal: true

module Loomshuttle
  module Deck
    # Measures how many frames pass from what is played to what is recorded: an impulse out on
    # one lane, found on another by its height. Needs a loop from that output to that input.
    class RoundTrip
      # Longer than any device and desk need.
      LISTEN_S = 1.0
      # The impulse lies ready so long before it sounds: a machine that is busy for a moment, or
      # the measuring before this one, does not cost it.
      LEAD_S = 0.4
      # What was heard with a hole in it is not judged but heard again.
      TRIES = 3
      WAIT_S = 5
      # An impulse that comes back under this was not ours.
      LOWEST = 0.01
      private_constant :LISTEN_S, :LEAD_S, :TRIES, :WAIT_S, :LOWEST

      # @param player [Player]
      # @param capture [#call] => Rings::CaptureRing
      # @param page [#call]
      def initialize(player, capture, page)
        @player, @capture, @page = player, capture, page
      end

      # @param out, into [Integer] lanes from 1
      # @return [Hash] frames, ms, height_dbfs
      # @raise [BadInput] when nothing came back, or no blocks, or while something plays
      def measure(out, into)
        playing = @player.program
        raise BadInput.new(field: "playing", value: playing.label, allowed: "nothing that plays while it is measured; stop it first") if playing

        ring = @capture.call
        rate_hz = running.rate_hz
        raise BadInput.new(field: "lane_in", value: into, allowed: "1 to #{ring.lanes}") unless into.between?(1, ring.lanes)

        TRIES.times do
          samples = heard(ring, out, into, (LISTEN_S * rate_hz).round)
          return found(samples, rate_hz, into) if samples
        end
        raise BadInput.new(field: "device", value: nil, allowed: "a device that loses no blocks while it is measured; #{TRIES} times one was lost")
      end

      private

      def running = @page.call || raise(BadInput.new(field: "device", value: nil, allowed: "a device that is running"))

      # An impulse that followed on the one before would be faded in, and gone: each begins on silence.
      def heard(ring, out, into, length)
        listen(ring, send_impulse(out), length, into - 1)
      ensure
        @player.stop
      end

      # @return [Integer] device frame at which it sounds
      def send_impulse(out)
        now = running
        length = (LISTEN_S * now.rate_hz).round
        voice = Render::Voice.new(key: "impulse", source: Render::Impulse.new(frames: length), lanes: [out])
        lead_frames = (LEAD_S * now.rate_hz / now.block_frames).ceil * now.block_frames
        @player.start(Render::Program.new(label: "Round trip", rate_hz: now.rate_hz, voices: [voice], length_frames: length), at_frame: now.frame + lead_frames)
      end

      # @return [Numo::SFloat, nil] nil when not every frame of it was heard
      def listen(ring, at, length, lane)
        reader = ring.reader(at)
        samples = Numo::SFloat.zeros(length)
        heard_frames = 0
        deadline_s = now_s + WAIT_S
        while now_s < deadline_s
          block = reader.read
          next sleep(0.01) unless block
          return (samples if heard_frames == length && @player.late.zero?) if block.frame >= at + length

          heard_frames += lay(samples, block, at, lane)
        end
        raise BadInput.new(field: "device", value: nil, allowed: "a device that gives blocks; none came for #{WAIT_S} s")
      end

      # @return [Integer] frames of it that this block brought
      def lay(samples, block, at, lane)
        first = [at - block.frame, 0].max
        into = block.frame + first - at
        count = [block.frames - first, samples.size - into].min
        return 0 unless count > 0

        samples[into...(into + count)] = Numo::SFloat.from_binary(Audio::Wav::Samples.float_of_24(block.lane(lane, from: first, count: count)))
        count
      end

      def found(samples, rate_hz, into)
        height = samples.abs.max
        raise BadInput.new(field: "lane_in", value: into, allowed: "a lane that hears the output; nothing came back on this one") if height < LOWEST

        frames = samples.abs.max_index
        {frames: frames, ms: (frames * 1000.0 / rate_hz).round(2), height_dbfs: Audio::Scale.dbfs(height).round(1)}
      end

      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end

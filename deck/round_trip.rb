# frozen_string_literal: true

module Loomshuttle
  module Deck
    # Measures how many frames pass from what is played to what is recorded: an impulse out on
    # one lane, found on another by its height. Needs a loop from that output to that input.
    class RoundTrip
      # Longer than any device and desk need.
      LISTEN_S = 1.0
      WAIT_S = 5
      # An impulse that comes back under this was not ours.
      LOWEST = 0.01
      private_constant :LISTEN_S, :WAIT_S, :LOWEST

      # @param player [Player]
      # @param capture [#call] => Rings::CaptureRing
      # @param page [#call]
      def initialize(player, capture, page)
        @player, @capture, @page = player, capture, page
      end

      # @param out, into [Integer] lanes from 1
      # @return [Hash] frames, ms, height_dbfs
      # @raise [BadInput] when nothing came back
      def measure(out, into)
        now = @page.call or raise BadInput.new(field: "device", value: nil, allowed: "a device that is running")
        ring = @capture.call
        raise BadInput.new(field: "lane_in", value: into, allowed: "1 to #{ring.lanes}") unless into.between?(1, ring.lanes)

        length = (LISTEN_S * now.rate_hz).round
        voice = Render::Voice.new(key: "impulse", source: Render::Impulse.new(frames: length), lanes: [out])
        at = @player.start(Render::Program.new(label: "Round trip", rate_hz: now.rate_hz, voices: [voice], length_frames: length))
        found(listen(ring, at, length, into - 1), now.rate_hz, into)
      end

      private

      def listen(ring, at, length, lane)
        reader = ring.reader(at)
        samples = Numo::SFloat.zeros(length)
        deadline_s = now_s + WAIT_S
        while now_s < deadline_s
          block = reader.read
          next sleep(0.01) unless block
          return samples if block.frame >= at + length

          lay(samples, block, at, lane)
        end
        raise BadInput.new(field: "device", value: nil, allowed: "a device that gives blocks; none came for #{WAIT_S} s")
      end

      def lay(samples, block, at, lane)
        floats = Numo::SFloat.from_binary(Audio::Wav::Samples.float_of_24(block.lane(lane)))
        first = [at - block.frame, 0].max
        into = block.frame + first - at
        count = [floats.size - first, samples.size - into].min
        samples[into...(into + count)] = floats[first...(first + count)] if count > 0
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

# frozen_string_literal: true

module Loomshuttle
  module Capture
    # What an audio device at some rate and block costs and saves, and whether the plan fits on it:
    # in words, for whoever chooses.
    #
    #   DeviceTerms.new(rate_hz: 48_000, block_frames: 256, lanes_in: 32).says(now: other, sides: 12)
    DeviceTerms = Value.of(:rate_hz, :block_frames, :lanes_in) do
      def block_ms = block_frames * 1000.0 / rate_hz
      def blocks_per_s = rate_hz.fdiv(block_frames).round
      # One block is being heard while the ones behind it lie ready to be played.
      def way_ms = block_ms * DeviceTerms::WAY_BLOCKS

      # @param now [DeviceTerms, nil] what is open
      # @param sides [Integer] armed sides of tracks
      # @return [Array<String>]
      def says(now:, sides:)
        [way, against(now), disk(now, sides)].compact
      end

      # @param plan_lanes [Array<Integer>] lanes that the show's tracks come on, from 1
      # @param show_rate_hz [Integer]
      # @return [Array<String>] why a take of this plan could not be recorded on it
      def warns(plan_lanes:, show_rate_hz:)
        [too_few(plan_lanes.max || 0), other_rate(show_rate_hz)].compact
      end

      private

      def way = "Blocks of #{block_ms.round(1)} ms, #{blocks_per_s} a second: what plays is heard about #{way_ms.round} ms after it was asked for."

      def against(now)
        return if now.nil? || (now.way_ms - way_ms).abs < 0.5

        other = (now.way_ms - way_ms).round
        times = times_words(blocks_per_s.fdiv(now.blocks_per_s))
        return "That is #{other} ms sooner than now, at #{times} as many blocks a second: more work, and less room before one is lost." if other > 0

        "That is #{-other} ms later than now, at #{times} as many blocks a second: less work, and more room before one is lost."
      end

      def times_words(ratio) = (ratio >= 1) ? "#{ratio.round(1).to_s.delete_suffix(".0")} times" : "#{(ratio * 100).round} %"

      def disk(now, sides)
        return if sides.zero?

        rate = DiskBudget.rate_bytes_per_s(sides, rate_hz) / 1e6
        same = now.nil? || now.rate_hz == rate_hz
        "#{sides} armed take #{rate.round(1)} MB a second on disk#{", #{times_words(rate_hz.fdiv(now.rate_hz))} what they take now" unless same}."
      end

      # Common practice: class-compliant interfaces come up with two lanes until they are told otherwise.
      def too_few(highest)
        return if highest <= lanes_in
        return "It gives #{lanes_in} lanes; the plan comes on lanes up to #{highest}." if lanes_in > 2

        "It shows #{lanes_in} #{(lanes_in == 1) ? "lane" : "lanes"}; the plan comes on lanes up to #{highest}: it is in its two-lane mode. " \
          "Switch it to all its lanes, on the interface or in what its driver offers, plug it in again and look again."
      end

      def other_rate(show_rate_hz)
        "The show is planned at #{show_rate_hz / 1000.0} kHz: nothing is recorded until both agree." if show_rate_hz != rate_hz
      end
    end

    # Of the engine's ALSA device: one that is filled, three that lie ready.
    DeviceTerms::WAY_BLOCKS = 4
  end
end

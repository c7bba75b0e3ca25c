# frozen_string_literal: true

require "numo/pocketfft"

module Loomshuttle
  module Ear
    # By how much two recordings of one evening are apart, by what both hear: every frequency counts alike, so that two
    # microphones of another sound, or bleed under something louder, still meet in one sharp peak (generalised
    # cross-correlation with phase transform: Knapp and Carter, 1976).
    #
    #   Offset.of(desk, room)          # => #<struct delay_frames=48_210, height=61.4>, nil where nothing tells
    #   Offset.of_long(desk, room)     # the same of minutes, in two steps
    #
    # delay_frames  what one holds at a frame the other holds so many frames later; below 0 earlier
    # height        of the peak, in standard deviations of all else
    Offset = Value.of(:delay_frames, :height)

    class Offset
      # What rises so high by chance among ten million sums would be one in many thousand such pairs.
      HEIGHT_MIN = 8.0
      # Spectral lines under this share of the strongest hold nothing but rounding.
      LEAST = 1e-7
      private_constant :LEAST

      # @param one, other [Numo::SFloat] [frames]; they need not be of one length
      # @return [Offset, nil]
      def self.of(one, other)
        return nil if [one, other].any? { |samples| samples.empty? || samples.abs.max.zero? }

        length = 2**Math.log2(one.size + other.size).ceil
        sums = Numo::Pocketfft.irfft(whitened(one, length).conj * whitened(other, length))
        at = sums.max_index
        height = sums[at] / Math.sqrt(sums.mulsum(sums) / length)
        new(delay_frames: (at >= other.size) ? at - length : at, height: height.round(1)) if height >= HEIGHT_MIN
      end

      # First roughly, of all of it; then to the frame where both are at their loudest.
      #
      # @return [Offset, nil]
      def self.of_long(one, other)
        rough = of(*[one, other].map { |samples| thinned(samples) }) or return nil
        at, from, count = loudest(one, other, rough.delay_frames * STEP)
        fine = of(one[at...(at + count)], other[from...(from + count)]) if count.positive?
        fine.with(delay_frames: from - at + fine.delay_frames) if fine && fine.delay_frames.abs <= 2 * STEP
      end

      # So many frames count as one in the first step, and so many are looked at in the second.
      STEP = 8
      FINE_FRAMES = 2**18
      private_constant :STEP, :FINE_FRAMES

      def self.thinned(samples) = samples[0...(samples.size / STEP * STEP)].reshape(samples.size / STEP, STEP).mean(1)

      # @return [Array(Integer, Integer, Integer)] frame of the one, of the other, how many
      def self.loudest(one, other, delay)
        first, last = [0, -delay].max, [one.size, other.size - delay].min
        count = [last - first, FINE_FRAMES].min
        at = (first..(last - count)).step([count / 2, 1].max).max_by { |frame| one[frame...(frame + count)].then { |samples| samples.mulsum(samples) } }
        at ? [at, at + delay, count] : [0, 0, 0]
      end

      def self.whitened(samples, length)
        room = Numo::DFloat.zeros(length)
        room[0...samples.size] = samples
        spectrum = Numo::Pocketfft.rfft(room)
        size = spectrum.abs
        spectrum / Numo::DFloat.maximum(size, size.max * LEAST)
      end
      private_class_method :thinned, :loudest, :whitened
    end
  end
end

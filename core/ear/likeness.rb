# frozen_string_literal: true

require "numo/pocketfft"

module Loomshuttle
  module Ear
    # How alike two signals are, by the highest of their normalised cross-correlation: the usual measure of
    # delay and polarity between two microphones.
    #
    #   Likeness.of(kick_in, kick_out, most_frames: 480)
    #     # => #<struct likeness=0.93, delay_frames=31, inverted=true>
    #
    # likeness      0 (nothing in common) to 1 (the same but for level, delay and polarity)
    # delay_frames  by how much the second comes later than the first
    # inverted      whether its polarity is the other
    Likeness = Value.of(:likeness, :delay_frames, :inverted)

    class Likeness
      NONE = new(likeness: 0.0, delay_frames: 0, inverted: false)

      # @param one, other [Numo::SFloat, Numo::DFloat] [frames], of the same length
      # @param most_frames [Integer] delays up to this are looked at, either way
      # @return [Likeness]
      def self.of(one, other, most_frames:)
        energy = Math.sqrt(one.mulsum(one).to_f * other.mulsum(other).to_f)
        return NONE unless energy.positive?

        most_frames = [most_frames, one.size - 1].min
        sums = correlation(one, other, most_frames)
        at = sums.abs.max_index
        new(likeness: [sums[at].abs / energy, 1.0].min, delay_frames: at - most_frames, inverted: sums[at].negative?)
      end

      # By way of the spectrum, with so many zeros behind that nothing wraps round.
      #
      # @return [Numo::DFloat] sums of products for delays of -most to +most frames
      def self.correlation(one, other, most_frames)
        length = 2**Math.log2(one.size + most_frames).ceil
        spectra = [one, other].map { |samples| Numo::Pocketfft.rfft(padded(samples, length)) }
        sums = Numo::Pocketfft.irfft(spectra[0].conj * spectra[1])
        most_frames.zero? ? sums[0..0] : Numo::DFloat.hstack([sums[-most_frames..], sums[0..most_frames]])
      end

      def self.padded(samples, length)
        Numo::DFloat.zeros(length).tap { |room| room[0...samples.size] = samples }
      end
      private_class_method :correlation, :padded
    end
  end
end

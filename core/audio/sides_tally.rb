# frozen_string_literal: true

module Loomshuttle
  module Audio
    # What becomes of two sides that are summed on one lane, block by block.
    #
    #   tally = SidesTally.new
    #   tally.add(samples)   # Numo::Int32[frames, 2], full scale 2^31
    #   tally.sides_db       # => -9.4: the sum has 9.4 dB less power than both sides together
    #
    # Sides that are alike sum to +3 dB, sides that have nothing to do with each other to 0 dB, sides that cancel to less.
    class SidesTally
      # Under this a file is silent.
      SILENT_POWER = 1e-12
      # Told of sides that cancel altogether.
      LEAST_DB = -120.0
      FULL_POWER = Scale::FULL_SCALE_S32.to_f**2
      private_constant :SILENT_POWER, :LEAST_DB, :FULL_POWER

      def initialize
        @sum = @both = 0.0
        @peak = 0.0
        @frames = 0
      end

      def add(samples)
        return if samples.shape[0] == 0

        left, right = (0..1).map { |side| Numo::DFloat.cast(samples[true, side]) }
        together = left + right
        @sum += together.mulsum(together) / FULL_POWER
        @both += (left.mulsum(left) + right.mulsum(right)) / FULL_POWER
        low, high = together.minmax
        @peak = [@peak, high / Scale::FULL_SCALE_S32, -low / Scale::FULL_SCALE_S32].max
        @frames += samples.shape[0]
      end

      # @return [Float, nil] nil for silence
      def sides_db
        return nil if @frames.zero? || @both / @frames < SILENT_POWER

        [(10 * Math.log10([@sum / @both, 1e-30].max)), LEAST_DB].max.round(2)
      end

      # @return [Float, nil] of the plain sum, which may be over full scale; nil for silence
      def sum_peak_dbfs = (Scale.dbfs(@peak).round(2) if sides_db)
    end
  end
end

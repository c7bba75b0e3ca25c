# frozen_string_literal: true

module Loomshuttle
  module Audio
    # Adds up the level of a whole file, block by block.
    #
    #   tally = LevelTally.new(channels: 2, bits: 24)
    #   tally.add(samples)   # Numo::Int32[frames, channels], full scale 2^31
    #   tally.levels         # => [{peak_dbfs:, rms_dbfs:, clipped_runs:}, ...]
    class LevelTally
      # @param bits [Integer] of the encoding: its highest positive value counts as clipped
      def initialize(channels:, bits:)
        @ceiling = Scale::FULL_SCALE_S32 - 2**(32 - [bits, 25].min)
        @peak = Array.new(channels, 0)
        @square_sum = Array.new(channels, 0.0)
        @run = Array.new(channels, 0)
        @clipped_runs = Array.new(channels, 0)
        @frames = 0
      end

      def add(samples)
        return if samples.shape[0] == 0

        @frames += samples.shape[0]
        samples.shape[1].times { |channel| add_channel(channel, samples[true, channel]) }
      end

      def levels
        @peak.each_index.map do |channel|
          mean_square = (@frames == 0) ? 0.0 : @square_sum[channel] / @frames
          {peak_dbfs: Scale.dbfs(@peak[channel].to_f / Scale::FULL_SCALE_S32).round(2),
           rms_dbfs: Scale.rms_dbfs(mean_square).round(2), clipped_runs: @clipped_runs[channel]}
        end
      end

      private

      def add_channel(channel, column)
        low, high = column.minmax
        @peak[channel] = [@peak[channel], high, -low].max
        wide = Numo::DFloat.cast(column)
        @square_sum[channel] += wide.mulsum(wide) / Scale::FULL_SCALE_S32**2
        clipped = high >= @ceiling || low <= -@ceiling
        clipped ? count_runs(channel, column) : @run[channel] = 0
      end

      # A run that goes on over the edge of two blocks counts once, when it is long enough.
      def count_runs(channel, column)
        at_limit = ((column >= @ceiling) | (column <= -@ceiling)).where.to_a
        last = -1
        run = @run[channel]
        at_limit.each do |position|
          run = 0 unless position == last + 1
          run += 1
          @clipped_runs[channel] += 1 if run == Scale::CLIPPED_RUN_SAMPLES
          last = position
        end
        @run[channel] = (last == column.size - 1) ? run : 0
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Audio
    # Every number about samples that more than one file needs, with unit and source.
    module Scale
      # Rates of the trade: 44.1 kHz and 48 kHz with their doubles (AES5).
      SAMPLE_RATES_HZ = [44_100, 48_000, 88_200, 96_000].freeze

      # Samples travel as 32-bit integers with the value in the upper bits, so that 16, 24
      # and 32 bits have one full scale. A negative peak reaches -2^31 exactly.
      FULL_SCALE_S32 = 2**31
      FULL_SCALE_S24 = 2**23
      MAX_S32 = 2**31 - 1

      # float32 cannot hold 2^31 - 1; its next lower value is the ceiling before a cast.
      MAX_FLOAT_S32 = 2**31 - 128

      # AES17: a full-scale sine reads 0 dBFS rms, so rms readings are 3.01 dB above the
      # arithmetic value.
      AES17_RMS_OFFSET_DB = 20 * Math.log10(Math.sqrt(2))

      # What the meters show for silence. 24 bits end near -144 dBFS.
      FLOOR_DBFS = -150.0

      # Shorter runs at full scale may be one honest peak; common practice counts three.
      CLIPPED_RUN_SAMPLES = 3

      module_function

      # @param ratio [Numeric] amplitude, 1.0 at full scale
      # @return [Float] dBFS, never below FLOOR_DBFS
      def dbfs(ratio) = (ratio > 0) ? [20 * Math.log10(ratio), FLOOR_DBFS].max : FLOOR_DBFS

      # @param db [Numeric]
      # @return [Float] amplitude ratio
      def ratio(db) = 10**(db / 20.0)

      # @param mean_square [Numeric] of samples with full scale 1.0
      # @return [Float] dBFS as AES17 has it
      def rms_dbfs(mean_square)
        (mean_square > 0) ? [10 * Math.log10(mean_square) + AES17_RMS_OFFSET_DB, FLOOR_DBFS].max : FLOOR_DBFS
      end
    end
  end
end

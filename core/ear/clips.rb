# frozen_string_literal: true

module Loomshuttle
  module Ear
    # Whether a converter was driven over its end: so many samples in a row at full scale that it is no one
    # honest peak (Scale::CLIPPED_RUN_SAMPLES, common practice).
    module Clips
      # One step of 16 bits under full scale: converters stop a little below it.
      CEILING = 1.0 - 2.0**-15
      private_constant :CEILING

      module_function

      # @param samples [Numo::SFloat] [frames], full scale 1
      def any?(samples)
        at = (samples.abs >= CEILING).where
        run = Audio::Scale::CLIPPED_RUN_SAMPLES - 1
        at.size > run && (at[run..] - at[0...(at.size - run)]).eq(run).any?
      end
    end
  end
end

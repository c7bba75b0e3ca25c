# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # How far a source is from where it should play, and by how much its preamp may be turned so that the
    # loudest that was heard so far would not clip.
    #
    #   Gain.of(peak_dbfs: -14.0, rms_dbfs: -30.2, aim_dbfs: -18)   # => {distance_db: 12.2, turn_db: 12}
    module Gain
      # Where normal playing should sit: most say -18, some -20 (common practice; EBU R 68 aligns there).
      AIM_DBFS = -18
      # Left over the loudest peak so far.
      ROOM_DB = 1.0

      module_function

      # @param peak_dbfs, rms_dbfs [Float, nil] of the last minute
      # @return [Hash, nil] distance_db: to the aim; turn_db: Integer, 0 where it is right; nil where nobody played
      def of(peak_dbfs:, rms_dbfs:, aim_dbfs: AIM_DBFS)
        return nil unless peak_dbfs && rms_dbfs

        distance_db = aim_dbfs - rms_dbfs
        {distance_db: distance_db.round(1), turn_db: [distance_db.round, (-ROOM_DB - peak_dbfs).floor].min}
      end

      # @param full_scale_dbu [Integer] +18 by EBU R 68, +24 by SMPTE RP 155
      # @return [Float] of that level at the desk's outputs
      def dbu(dbfs, full_scale_dbu) = (dbfs + full_scale_dbu).round(1)
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  class Show
    # One file of a song, mono or stereo. `file` is a name inside the song's own folder.
    #
    # sides_db       what its two sides lose where they are summed, see Audio::SidesTally; nil for mono and where nobody measured
    # sum_peak_dbfs  the highest level of their plain sum
    Stem = Value.of(:name, :role, :file, :sample_rate_hz, :frames, channels: 1, sides_db: nil, sum_peak_dbfs: nil) do
      # @return [Hash] without what nobody measured
      def to_data = to_h.reject { |member, value| value.nil? && %i[sides_db sum_peak_dbfs].include?(member) }
    end
  end
end

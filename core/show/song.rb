# frozen_string_literal: true

module Loomshuttle
  class Show
    # One song of the set list: its stems and what its click is made from.
    Song = Value.of(:id, :title, :bpm, :beats_per_bar, :sample_rate_hz, :length_frames, count_in_bars: 1, stems: [].freeze) do
      def role_names = stems.map(&:role).uniq + [CLICK_ROLE]
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  class Show
    # What a show knows of one song of the library: its stems and what its click is made from.
    #
    # bpm  nil where nobody has said; then it has no click
    Song = Value.of(:id, :title, :bpm, :beats_per_bar, :sample_rate_hz, :length_frames, count_in_bars: 1, stems: [].freeze) do
      # @param data [Hash] string keys
      def self.from_h(data)
        new(**data.transform_keys(&:to_sym), stems: data.fetch("stems", []).map { |stem| Stem.new(**stem.transform_keys(&:to_sym)) }.freeze)
      end

      def to_data = to_h.merge(stems: stems.map(&:to_h))
      def click? = !bpm.nil?
      def role_names = stems.map(&:role).uniq + (click? ? [CLICK_ROLE] : [])
    end
  end
end

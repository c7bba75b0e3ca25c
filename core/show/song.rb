# frozen_string_literal: true

module Loomshuttle
  class Show
    # What a show knows of one song of the library: its stems, its tempo, and what its click is made from.
    #
    # bpm            quarter notes a minute at its beginning; nil where nobody has said, then it has no bars and no click
    # tempo          its tempo map as Music::TempoMap#to_data, nil for one tempo and one time signature throughout
    # bar_1_frame    of the audio, where the first beat of bar 1 lies
    # sections       as data of Section, by bar
    # arrangements   as data of Arrangement
    # click          what Music::Click::Style has beside the count-in, as data; what it leaves out is as usual
    class Song < Value.of(:id, :title, :bpm, :beats_per_bar, :sample_rate_hz, :length_frames, count_in_bars: 1, stems: [].freeze, tempo: nil, bar_1_frame: 0, click: {}.freeze,
      sections: [].freeze, arrangements: [].freeze)
      include Value::Memo

      # What a click's data may have.
      CLICK_FIELDS = %w[accents subdivide pace sound level_db subdivision_db].freeze

      # @param data [Hash] string keys
      def self.from_h(data)
        new(**data.transform_keys(&:to_sym), stems: data.fetch("stems", []).map { |stem| Stem.new(**stem.transform_keys(&:to_sym)) }.freeze)
      end

      # @return [Hash] symbol keys; what is as usual is left out
      def to_data
        own = to_h.merge(stems: stems.map(&:to_h))
        own.reject { |name, value| {tempo: nil, bar_1_frame: 0, click: {}, sections: [], arrangements: []}.then { |usual| usual.key?(name) && usual[name] == value } }
      end

      def click? = !bpm.nil?
      def role_names = stems.map(&:role).uniq + (click? ? [CLICK_ROLE] : [])

      # @return [Music::TempoMap, nil]
      def map
        once(:map) { (tempo && Music::TempoMap.from_h(tempo)) || (bpm && Music::TempoMap.of(bpm: bpm, meter: Music::Meter.new(beats: beats_per_bar, unit: 4))) }
      end

      # @return [Music::Click::Style]
      def click_style
        given = click.slice(*CLICK_FIELDS).transform_keys(&:to_sym)
        Music::Click::Style.new(**given, count_in_bars: count_in_bars)
      end

      # Where sections lie when the song plays.
      #
      # @return [Array<Array(Section, Range)>] with program frames; none without a tempo
      def placed_sections
        return [] unless map

        all = Section.all_of(sections)
        frame = ->(bar) { layout.bar_1_at + map.frame(map.bar_start(bar), sample_rate_hz) }
        all.zip(all.drop(1)).map { |one, following|
          [one, frame[one.bar]...[following ? frame[following.bar] : layout.frames, layout.frames].min]
        }.reject { |_, range| range.begin >= range.end }
      end

      # @param name [String]
      # @return [Arrangement]
      # @raise [BadInput]
      def arrangement(name)
        all = Arrangement.all_of(arrangements, sections)
        all.find { |one| one.name == name } ||
          raise(BadInput.new(field: "arrangement", value: name, allowed: all.empty? ? "none: the song has no arrangement" : all.map(&:name).join(", ")))
      end

      # @return [SongLayout]
      def layout = once(:layout) { SongLayout.of(self) }
    end
  end
end

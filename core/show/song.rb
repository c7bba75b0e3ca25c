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
    # cues           what is read out, as data: language, sections and count_in (true where they are), said ([{bar, text}])
    # tempi          tempi that lie ready, percent (as text) => {"frames" => {stem's file => frames}}
    # percent        of its own tempo at which it is played; the song at another one is another value, see #at
    # spoken         keys of SpokenCue that lie ready as files
    # loudness_lufs, true_peak_dbtp   of all stems together (EBU R 128), the peak the highest of any stem as well; nil where nobody measured
    # click          what Music::Click::Style has beside the count-in, as data; what it leaves out is as usual
    class Song < Value.of(:id, :title, :bpm, :beats_per_bar, :sample_rate_hz, :length_frames, count_in_bars: 1, stems: [].freeze, tempo: nil, bar_1_frame: 0, click: {}.freeze,
      sections: [].freeze, arrangements: [].freeze, loudness_lufs: nil, true_peak_dbtp: nil, cues: {}.freeze,
      spoken: [].freeze, tempi: {}.freeze, percent: 100)
      include Value::Memo

      AS_USUAL = {tempo: nil, bar_1_frame: 0, click: {}, sections: [], arrangements: [], loudness_lufs: nil, true_peak_dbtp: nil, cues: {}, spoken: [],
                  tempi: {}, percent: 100}.freeze
      private_constant :AS_USUAL
      # What a click's data may have.
      CLICK_FIELDS = %w[accents subdivide pace sound level_db subdivision_db].freeze

      # @param data [Hash] string keys
      def self.from_h(data)
        new(**data.transform_keys(&:to_sym), stems: data.fetch("stems", []).map { |stem| Stem.new(**stem.transform_keys(&:to_sym)) }.freeze)
      end

      # @return [Hash] symbol keys; what is as usual is left out
      def to_data
        own = to_h.merge(stems: stems.map(&:to_data))
        own.reject { |name, value| AS_USUAL.key?(name) && AS_USUAL[name] == value }
      end

      def click? = !bpm.nil?
      def role_names = once(:role_names) { (stems.map(&:role) | (cues? ? [CUE_ROLE] : []) | (click? ? [CLICK_ROLE] : [])).freeze }
      def cues? = click? && (cues["sections"] || cues["count_in"] || cues.fetch("said", []).any? || false)

      PERCENT = (60..120)
      def self.folder_at(percent) = "at-#{percent}"

      # The song at a tempo that lies ready: its stems are other files, all that lies at bars lies there still.
      #
      # @param percent [Integer, nil] nil for its own
      # @return [Song] itself where that tempo does not lie ready
      def at(percent)
        frames = tempi.dig(percent.to_s, "frames")
        slower = map&.at_percent(percent) if frames
        return self if percent == self.percent || frames.nil? || (map && slower.nil?)

        once([:at, percent]) do
          with(percent: percent, bpm: bpm && (bpm * percent / 100.0), tempo: slower&.to_data, bar_1_frame: Rational(bar_1_frame * 100, percent).round,
            length_frames: frames.values.max,
            stems: stems.map { |stem| stem.with(file: "#{Song.folder_at(percent)}/#{stem.file}", frames: frames.fetch(stem.file, 0)) }.freeze)
        end
      end

      # @return [Music::TempoMap, nil]
      def map
        once(:map) { (tempo && Music::TempoMap.from_h(tempo)) || (bpm && Music::TempoMap.of(bpm: bpm, meter: Music::Meter.new(beats: beats_per_bar, unit: 4))) }
      end

      # A bar that would begin where the audio ends, rounded to a frame, is none.
      #
      # @return [Integer, nil] in which the audio ends; nil without a tempo
      def last_bar
        return nil unless map

        last = map.last_bar(map.quarters(Rational(length_frames - bar_1_frame, sample_rate_hz)))
        (last > 1 && bar_frame(last) >= length_frames) ? last - 1 : last
      end

      # @return [Integer] frame of the audio at which a bar begins
      def bar_frame(bar) = bar_1_frame + map.frame(map.bar_start(bar), sample_rate_hz)

      # @return [Music::Click::Style]
      def click_style
        given = click.slice(*CLICK_FIELDS).transform_keys(&:to_sym)
        Music::Click::Style.new(**given, count_in_bars: count_in_bars, only: sounding_bars)
      end

      # Bars in which alone the click sounds, the count-in apart; nil for all of them.
      #
      # @return [Array<Array(Integer, Integer or nil)>, nil] first bar, and the first behind
      def sounding_bars
        chosen = click["sections"] or return nil
        all = Section.all_of(sections)
        all.zip(all.drop(1)).filter_map { |one, following| [one.bar - click.fetch("lead_bars", 0), following&.bar] if chosen.include?(one.id) }
      end

      # @return [Array<String>] ids of OwnSound
      def own_sounds = OwnSound.of(click, cues)

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

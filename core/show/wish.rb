# frozen_string_literal: true

module Loomshuttle
  class Show
    # A song as data for whoever renders it, live or into files: which stem goes to which lane and how loud, its click, bars
    # and order.
    #
    #   Wish.of(show, song) { |file| "songs/low-tide-waltz/#{file}" }   # => DeckPlay of the contract
    module Wish
      module_function

      # @param played [Played] as the set list has it, unless somebody says otherwise
      # @yield [String, Boolean] the path of a file of the song; of one below the folder of all songs, where that is said
      # @return [Hash]
      # @raise [BadInput] where a role of the song has no lane, or an arrangement cannot be played
      def of(show, song, played: Played.of(show, song), &path)
        refuse_tempo(show, song)
        voices = SongVoices.of(show, song)
        stems = voices.select(&:stem).map { |voice| voice_of(voice, song.layout.audio_at, &path) }
        spoken = voices.select { |voice| voice.key == SongVoices::SPOKEN }.filter_map { |voice| spoken(voice, SpokenCue.of(played), song.sample_rate_hz, &path) }
        bars = song.click? ? in_bars(song, voices.find { |voice| voice.key == CLICK_ROLE }, &path) : {}
        {label: song.title, rate_hz: song.sample_rate_hz, percent: song.percent, voices: stems + spoken, order: order(played), **bars}.compact
      end

      def refuse_tempo(show, song)
        percent = show.set_list[song.id]&.percent or return
        raise BadInput.new(field: "percent", value: percent, allowed: "a tempo that is prepared, or its own; choose another one in the set list") unless song.percent == percent
      end

      def order(played)
        raise BadInput.new(field: "arrangement", value: played.lost, allowed: "an arrangement that #{played.song.title} has; choose another one in the set list") if played.lost

        played.order&.then { |order| {ranges: order.ranges.map { |range| [range.begin, range.end] }, seam_frames: order.seam_frames, tail_frames: order.tail_frames} }
      end

      # What a song has that has a tempo: its click, and where its bars are.
      def in_bars(song, voice, &path)
        layout, tempo = song.layout, song.map.to_data
        brought = OwnSound.of_click(song.click).transform_values { |id| path.call(OwnSound.path(id, song.sample_rate_hz), true) }
        {click: {tempo: tempo, style: song.click_style.to_h, rate_hz: song.sample_rate_hz, to_bar: layout.to_bar, at: layout.click_at, frames: layout.frames - layout.click_at,
                 **({brought: brought} if brought.any?).to_h, **way(voice).except(:fold_db)}, bars: {tempo: tempo, at: layout.bar_1_at}}
      end

      def voice_of(voice, at) = {key: voice.key, pieces: [{path: yield(voice.stem.file), at: at}], **way(voice)}

      # @return [Hash, nil] nil where nothing is read out
      def spoken(voice, cues, rate_hz)
        pieces = cues.map { |cue| {path: cue.sound ? yield(OwnSound.path(cue.sound, rate_hz), true) : yield(cue.file), at: cue.at_frame} }
        {key: voice.key, played: true, pieces: pieces, **way(voice)} if pieces.any?
      end

      def way(voice)
        {lanes: voice.lanes, gain_db: voice.gain_db, fold_db: voice.fold_db, also: voice.also.map { |lanes, level_db| {lanes: lanes, level_db: level_db} }}
      end
      private_class_method :refuse_tempo, :order, :in_bars, :voice_of, :spoken, :way
    end
  end
end

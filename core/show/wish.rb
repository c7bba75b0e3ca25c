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
      # @yield [String] the path of a file of the song
      # @return [Hash]
      # @raise [BadInput] where a role of the song has no lane, or an arrangement cannot be played
      def of(show, song, played: Played.of(show, song), &path)
        refuse_tempo(show, song)
        voices = SongVoices.of(show, song)
        stems = voices.select(&:stem).map { |voice| voice_of(voice, song.layout.audio_at, &path) }
        spoken = voices.select { |voice| voice.key == SongVoices::SPOKEN }.filter_map { |voice| spoken(voice, SpokenCue.of(played), &path) }
        bars = song.click? ? in_bars(song, voices.find { |voice| voice.key == CLICK_ROLE }) : {}
        {label: song.title, rate_hz: song.sample_rate_hz, voices: stems + spoken, order: order(played), **bars}.compact
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
      def in_bars(song, voice)
        layout, tempo = song.layout, song.map.to_data
        {click: {tempo: tempo, style: song.click_style.to_h, rate_hz: song.sample_rate_hz, to_bar: layout.to_bar, at: layout.click_at, frames: layout.frames - layout.click_at,
                 **way(voice).except(:fold_db)}, bars: {tempo: tempo, at: layout.bar_1_at}}
      end

      def voice_of(voice, at) = {key: voice.key, pieces: [{path: yield(voice.stem.file), at: at}], **way(voice)}

      # @return [Hash, nil] nil where nothing is read out
      def spoken(voice, cues)
        {key: voice.key, played: true, pieces: cues.map { |cue| {path: yield(cue.file), at: cue.at_frame} }, **way(voice)} if cues.any?
      end

      def way(voice)
        {lanes: voice.lanes, gain_db: voice.gain_db, fold_db: voice.fold_db, also: voice.also.map { |lanes, level_db| {lanes: lanes, level_db: level_db} }}
      end
      private_class_method :refuse_tempo, :order, :in_bars, :voice_of, :spoken, :way
    end
  end
end

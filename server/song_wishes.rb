# frozen_string_literal: true

module Loomshuttle
  module Server
    # What the deck is asked for when a song is to be played: which stem goes to which lane, its click, bars, order and
    # level, as show and set list have it.
    #
    #   SongWishes.new(songs).of(show, "low-tide-waltz")   # => DeckPlay
    class SongWishes
      # @param songs [Store::Songs]
      def initialize(songs)
        @songs = songs
      end

      # Any song of the library, whether it is in the set list or not.
      #
      # @return [Hash] DeckPlay
      # @raise [BadInput] where a role of the song has no lane, or an arrangement cannot be played
      def of(show, id) = wish(show, show.library[id] || @songs.summary(id), @songs.folder(id))

      # The songs behind one in the set list. One that cannot be played says why when its turn comes near.
      #
      # @return [Array<Hash>] DeckPlay, each with what happens at its end
      def behind(show, id)
        following = show.songs.drop((show.songs.index { |song| song.id == id } || show.songs.size) + 1)
        # Asked once for all of them: a set has many songs, and somebody waits for Go.
        folders = @songs.folders(following.map(&:id))
        following.map { |song| {**wish_or_fault(show, song, folders[song.id]), **ending(show, song.id)} }
      end

      # @return [Hash] what happens at its end
      def ending(show, id) = show.set_list[id].then { |listed| {onward: true, after: listed&.after || "stop", wait_s: listed&.wait_s || 0} }

      # @return [String, nil] the song's id
      def self.song_of(key) = key&.delete_prefix(PREFIX).then { |id| id unless id == key }

      PREFIX = "song/"
      private_constant :PREFIX

      private

      def key(id) = "#{PREFIX}#{id}"

      def wish(show, song, folder)
        trim_db = show.set_list[song.id]&.trim_db || 0.0
        voices = Show::SongVoices.of(show, song).map { |voice| voice_of(voice, folder, song.layout.audio_at, trim_db) }
        bars = song.click? ? in_bars(show, song) : {}
        {label: song.title, key: key(song.id), rate_hz: song.sample_rate_hz, voices: voices, order: order(Show::Played.of(show, song)), **bars}.compact
      end

      def wish_or_fault(show, song, folder)
        wish(show, song, folder)
      rescue BadInput => e
        {label: song.title, key: key(song.id), rate_hz: show.sample_rate_hz, fault: {field: e.field, value: e.value.to_s, allowed: e.allowed}}
      end

      def order(played)
        raise BadInput.new(field: "arrangement", value: played.lost, allowed: "an arrangement that #{played.song.title} has; choose another one in the set list") if played.lost

        played.order&.then { |order| {ranges: order.ranges.map { |range| [range.begin, range.end] }, seam_frames: order.seam_frames} }
      end

      # What a song has that has a tempo: its click, and where its bars are.
      def in_bars(show, song)
        layout, tempo = song.layout, song.map.to_data
        {click: {tempo: tempo, style: song.click_style.to_h, rate_hz: song.sample_rate_hz, to_bar: layout.to_bar, at: layout.click_at, frames: layout.frames - layout.click_at,
                 lane: Show::SongVoices.click_lane(show)}, bars: {tempo: tempo, at: layout.bar_1_at}}
      end

      def voice_of(voice, folder, at, trim_db)
        {key: voice.key, pieces: [{path: "songs/#{folder}/#{voice.stem.file}", at: at, channels: voice.channels}.compact], lanes: voice.lanes, gain_db: trim_db}
      end
    end
  end
end

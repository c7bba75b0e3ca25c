# frozen_string_literal: true

module Loomshuttle
  module Server
    # What the deck is asked for when a song is to be played, and what follows it (Show::Wish).
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
      def of(show, id) = wish(show, show.song(id) || @songs.summary(id), @songs.folder(id))

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

      def wish(show, song, folder) = Show::Wish.of(show, song) { |file, shared| shared ? "songs/#{file}" : "songs/#{folder}/#{file}" }.merge(key: key(song.id))

      def wish_or_fault(show, song, folder)
        wish(show, song, folder)
      rescue BadInput => e
        {label: song.title, key: key(song.id), rate_hz: show.sample_rate_hz, fault: {field: e.field, value: e.value.to_s, allowed: e.allowed}}
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Which songs of the library are played, and in which order. The show must know them
    # (Show#library) before the edit is applied. What holds for a song that stays, stays (SetListed).
    SetSetList = Edit.of("set_list", songs: :ids) do
      def apply(show)
        twice = songs.tally.find { |_, count| count > 1 }&.first
        return refuse(twice, "each song once", "#{title(show, twice)} is in the list twice; a song stands in it once.") if twice
        most = SetSetList::SONGS_MAX
        missing = songs.find { |id| !show.library.key?(id) }
        return refuse(missing, "songs of the library", "There is no song #{missing} in the library.") if missing
        return refuse(songs.size, "up to #{most} songs", "A set list holds up to #{most} songs.") if songs.size > most

        show.with(set_list: songs.to_h { |id| [id.freeze, show.set_list[id] || Show::Listed.new(song: id)] }.freeze)
      end

      private

      def title(show, id) = show.library[id]&.title || id
      def refuse(value, allowed, why) = Refusal.new(field: "songs", value: value, allowed: allowed, why: why)
    end

    class SetSetList
      SONGS_MAX = 1000
    end
  end
end

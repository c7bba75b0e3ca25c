# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Trims the songs of the set list to one loudness (Show::SongLevels); those that nobody measured stay as they are.
    LevelSongs = Edit.of("level_songs", target_lufs: :number) do
      def apply(show)
        limits = Show::SongLevels::TARGETS_LUFS
        return refuse(target_lufs, "#{limits.min} to #{limits.max} LUFS", "#{target_lufs} LUFS is no loudness for a song.") unless limits.cover?(target_lufs)

        levels = Show::SongLevels.of(show, target_lufs).select(&:trim_db)
        return refuse(target_lufs, "a set list with songs whose loudness is known", "The loudness of no song in the set list is known.") if levels.empty?

        show.with(set_list: levels.reduce(show.set_list) { |list, level| list.merge(level.song.id => list[level.song.id].with(trim_db: level.trim_db)) }.freeze)
      end

      private

      def refuse(value, allowed, why) = Refusal.new(field: "target_lufs", value: value, allowed: allowed, why: why)
    end
  end
end

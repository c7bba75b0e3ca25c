# frozen_string_literal: true

module Loomshuttle
  class Show
    # What brings the songs of a set list to one loudness, none of them over full scale.
    #
    #   SongLevels.of(show, -18.0)   # => [#<struct song=..., trim_db=-2.3, short_db=0.0>, ...]
    #
    # trim_db   of its stems in the set list; nil for a song that nobody measured
    # short_db  how much it is left under the target, because its peaks have no more room
    SongLevels = Value.of(:song, :trim_db, :short_db)

    class SongLevels
      # Room that is left over the highest peak (EBU R 128: true peak at most -1 dBTP).
      CEILING_DBTP = -1.0
      TARGETS_LUFS = (-40.0..-8.0)

      # @param target_lufs [Float]
      # @return [Array<SongLevels>] in the order of the set list
      def self.of(show, target_lufs)
        show.songs.map do |song|
          next new(song: song, trim_db: nil, short_db: 0.0) unless song.loudness_lufs && song.true_peak_dbtp

          wanted = (target_lufs - song.loudness_lufs).clamp(Listed::TRIM_DB.min, Listed::TRIM_DB.max)
          # Rounded down: up would be over.
          trim_db = [wanted.round(1), (CEILING_DBTP - song.true_peak_dbtp).floor(1)].min.clamp(Listed::TRIM_DB.min, Listed::TRIM_DB.max)
          new(song: song, trim_db: trim_db, short_db: (target_lufs - song.loudness_lufs - trim_db).round(1).clamp(0.0, Float::INFINITY))
        end
      end
    end
  end
end

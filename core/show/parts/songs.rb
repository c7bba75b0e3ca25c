# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # The set list.
      class Songs < Part
        def form = :list
        def ordered? = true
        def read(show) = show.songs.to_h { |song| [song.id, song] }
        def put(show, values, moves) = show.with(songs: merged(read(show), values, moves).values.freeze)
        def encode(value) = value.to_h.merge(stems: value.stems.map(&:to_h))

        def decode(data, _profiles)
          Song.new(**data.transform_keys(&:to_sym), stems: data.fetch("stems", []).map { |stem| Stem.new(**stem.transform_keys(&:to_sym)) }.freeze)
        end

        def subject(_show, _key, value) = "The song #{value.title}"
        def without(_key, value) = value
      end
    end
  end
end

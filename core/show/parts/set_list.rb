# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # The songs of the evening in their order, by their ids in the library.
      class SetList < Part
        # A song that stands in the list.
        Listed = Value.of(:song)

        def form = :list
        def name = "set_list"
        def ordered? = true
        def read(show) = show.set_list.to_h { |id| [id, Listed.new(song: id)] }
        def put(show, values, moves) = show.with(set_list: merged(read(show), values, moves).keys.freeze)
        def key(value) = value.song
        def encode(value) = value.song
        def decode(data, _profiles) = Listed.new(song: data)
        def subject(show, key, _value) = "The song #{show.library[key]&.title || key}"
        def without(_key, value) = value
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # The songs of the evening in their order, by their ids in the library.
      class SetList < Part
        def form = :list
        def name = "set_list"
        def ordered? = true
        def key(value) = value.song

        # Files and inverse edits of before had ids only.
        def encode(value) = value.to_data.then { |data| (data.size == 1) ? value.song : data }
        def decode(data, _profiles) = Listed.from_data(data)
        def subject(show, key, _value) = "The song #{show.library[key]&.title || key}"
        def mentions(value) = value.roles.values.flat_map { |terms| terms.lanes.to_a }

        # A song stays; a role that it has on lanes that are gone is on its usual ones again.
        def without(_key, value)
          return value if mentions(value).none? { |lane| yield lane }

          left = value.roles.transform_values { |terms| (terms.lanes&.any? { |lane| yield lane }) ? terms.with(lanes: nil) : terms }
          value.with(roles: left.reject { |_, terms| terms.usual? }.freeze)
        end
      end
    end
  end
end

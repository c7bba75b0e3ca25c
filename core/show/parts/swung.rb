# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # What the swing remembers.
      class Swung < Part
        LISTS = %i[opened keep turned].freeze
        private_constant :LISTS

        def form = :own
        def read(show) = {"state" => show.swung}
        def put(show, values, _moves) = show.with(swung: values["state"])
        def encode(value) = {home: value.home.transform_values { |pick| pick&.to_h&.compact }, **LISTS.to_h { |list| [list, value.public_send(list)] }}

        def decode(data, _profiles)
          home = data.fetch("home", {}).transform_values { |pick| pick && Patch::Pick.from_h(pick) }
          Patch::Swung.new(home: home.freeze, **LISTS.to_h { |list| [list, data.fetch(list.to_s, []).freeze] })
        end

        def subject(_show, _key, _value) = "What the swing remembers"
        def mentions(value) = [*value.home.keys, *value.home.values.compact.map(&:from), *LISTS.flat_map { |list| value.public_send(list) }]

        def without(_key, value)
          value.with(home: value.home.reject { |slot, pick| yield(slot) || (pick && yield(pick.from)) }.freeze,
            **LISTS.to_h { |list| [list, value.public_send(list).reject { |place| yield place }.freeze] })
        end
      end
    end
  end
end

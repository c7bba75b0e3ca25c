# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # What every slot takes.
      class Slots < PatchPart
        def encode(value) = value.to_h.compact
        def decode(data, _profiles) = Patch::Pick.from_h(data)
        def subject(show, key, _value) = show.label(key)
        def mentions(value) = [value.from]
      end
    end
  end
end

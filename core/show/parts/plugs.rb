# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # Where rows are plugged in.
      class Plugs < PatchPart
        def subject(show, key, _value) = show.label(key)
        def mentions(value) = [value]
      end
    end
  end
end

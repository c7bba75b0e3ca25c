# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # What the show calls places of the gear.
      class Names < Part
        def subject(show, key, _value) = "The name of #{show.rig.label(key)}"
      end
    end
  end
end

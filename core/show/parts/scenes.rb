# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # Named patches beside the present one.
      class Scenes < Part
        def encode(value) = Parts.patch_data(value)
        def decode(data, _profiles) = Parts.patch(data)
        def subject(_show, key, _value) = "The scene #{key}"
        def without(_key, value, &) = Parts.scene_without(value, &)
      end
    end
  end
end

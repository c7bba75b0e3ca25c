# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # A set of places for which something holds.
      class Flag < PatchPart
        attr_reader :name

        def initialize(name)
          @name = name
          super()
        end

        def of_scene(scene) = scene.public_send(member).to_h { |id| [id, true] }
        def in_scene(scene, values) = scene.with(member => values.reduce(scene.public_send(member)) { |set, (id, on)| on ? set | [id] : set - [id] }.freeze)
        def to_file(scene) = scene.public_send(member).to_a.sort
        def from_file(data) = (data || []).to_set.freeze
        def subject(show, key, _value) = show.rig.devices[key]&.name || show.label(key)
      end
    end
  end
end

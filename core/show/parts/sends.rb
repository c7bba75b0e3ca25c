# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # What is sent to which mix; a key names both ends.
      class Sends < PatchPart
        # @return [Array(String, String)] channel and mix
        def ends(key) = key.split(SENT)

        def of_scene(scene) = scene.sends.flat_map { |from, mixes| mixes.map { |mix, send| [from + SENT + mix, send] } }.to_h
        def in_scene(scene, values) = values.reduce(scene) { |now, (key, send)| now.with_send(*ends(key), send) }
        def encode(value) = value.to_h
        def decode(data, _profiles) = Patch::Send.from_h(data)
        def to_file(scene) = scene.sends.transform_values { |mixes| mixes.transform_values { |send| encode(send) } }
        def from_file(data) = (data || {}).transform_values { |mixes| mixes.transform_values { |send| decode(send, nil) }.freeze }.freeze
        def subject(show, key, _value) = ends(key).map { |id| show.label(id) }.join(" to ")
        def without(key, value) = (ends(key).any? { |id| yield id }) ? nil : value
      end
    end
  end
end

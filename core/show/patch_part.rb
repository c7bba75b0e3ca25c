# frozen_string_literal: true

module Loomshuttle
  class Show
    # A part of the patch: it stands in every scene too.
    class PatchPart < Part
      def form = :own
      def read(show) = of_scene(show.patch)
      def put(show, values, _moves) = show.with(patch: in_scene(show.patch, values))
      def same?(before, after) = before.patch.equal?(after.patch) || super(before.patch, after.patch)

      # @return [Hash{String => Object}]
      def of_scene(scene) = scene.public_send(member)
      # @return [Patch::Scene]
      def in_scene(scene, values) = scene.with(member => of_scene(scene).merge(values).compact.freeze)

      # @return [Object] as it stands in a show file, below `patch`
      def to_file(scene) = of_scene(scene).transform_values { |value| encode(value) }
      # @return [Object] the scene's member
      def from_file(data) = (data || {}).transform_values { |value| decode(value, nil) }.freeze
    end
  end
end

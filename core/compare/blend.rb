# frozen_string_literal: true

module Loomshuttle
  module Compare
    # The present patch with parts of another laid over it: some fields or all, and nothing
    # that a safe row is in.
    module Blend
      module_function

      # @param fields [Array<String>, nil] see Fields; nil for all
      # @param guard [Boolean] whether safe rows are left alone
      # @return [Scene]
      def of(show, other, fields, guard: true)
        guarded = guard ? safe_places(show, show.patch) | safe_places(show, other) : Set.new
        changes = Show::Parts.changed(show, show.with(patch: other), Show::Parts::PATCH)
        wanted = changes.to_h { |part, keys| [part, keys.select { |key, _| wanted?(part, key, fields) && !guarded?(part, key, guarded) }.transform_values(&:last)] }
        blended = Show::Parts.put(show, wanted)
        with_blocks_open(blended).patch
      end

      def wanted?(part, key, fields) = fields.nil? || fields.include?(Patch::Fields.field_of(part, key))
      def guarded?(part, key, guarded) = guarded.include?((part == "sends") ? key.split(Show::Parts::SENT).first : key)

      # Every place on the way of a safe row, in one patch.
      def safe_places(show, patch)
        safe = show.rows.values.select(&:safe).map(&:id)
        return Set.new if safe.empty?

        graph = show.with(patch: patch).graph
        safe.flat_map { |row| [row, *patch_places(graph, row)] }.to_set
      end

      # Along the patch, not into mixes: a mix has other sources too.
      def patch_places(graph, row) = graph.onward(row).reject { |edge| edge.kind == :send }.map(&:to)

      # A block of which only a part was taken over stands open, where its model allows it.
      def with_blocks_open(show)
        crooked = show.patch.slots.keys.reject { |slot| Patch::Block.in_line?(show, slot) }.map { |slot| Patch::Block.first(show, slot) }.uniq
        crooked.reduce(show) { |now, first| now.rig.field_of(first).opens ? now.with(patch: now.patch.with_opened(first, true)) : now }
      end
      private_class_method :wanted?, :guarded?, :safe_places, :patch_places, :with_blocks_open
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets slots to exactly what they took at another time, without the question whether
    # an engineer may choose it: they took it then. The inverse of the patching edits, and
    # how a swing turns back.
    Restore = Value.of(:slots) do
      def self.from_h(hash)
        new(slots: hash.fetch("slots").transform_values { |take| take && Patch::Pick.from_h(take) })
      end

      # @return [Restore] that brings back what the given slots take now
      def self.slots_of(show, slot_ids) = new(slots: slot_ids.to_h { |id| [id, show.patch.slots[id]] })

      def to_data = {kind: "restore", slots: slots.transform_values { |take| take&.to_h }}

      def apply(show)
        refusal = slots.filter_map { |id, take| Edits.refuse_slot(show, id) || (take && Edits.refuse_source(show, take.from)) }.first
        refusal || show.with(patch: show.patch.with_slots(slots))
      end

      def inverse(show) = Restore.slots_of(show, slots.keys)
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Takes whatever a slot (with its block) takes away from it.
    Clear = Value.of(:slot) do
      def self.from_h(hash) = new(slot: hash.fetch("slot"))
      def to_data = {kind: "clear", slot: slot}

      def apply(show)
        Edits.refuse_slot(show, slot) ||
          show.with(patch: show.patch.with_slots(Patch::Block.slots(show, slot).to_h { |id| [id, nil] }))
      end

      def inverse(show) = Restore.slots_of(show, Patch::Block.slots(show, slot))
    end
  end
end

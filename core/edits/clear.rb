# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Takes whatever a slot (with its block) takes away from it.
    Clear = Edit.of("clear", slot: :id) do
      def apply(show)
        Edits.refuse_slot(show, slot) ||
          show.with(patch: show.patch.with_slots(Patch::Block.slots(show, slot).to_h { |id| [id, nil] }))
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Opens the block of a slot to single choices, or closes it again.
    OpenBlock = Edit.of("open_block", slot: :id, open: [:flag, true]) do
      def apply(show)
        Edits.refuse_slot(show, slot) || refuse_opening(show) || refuse_closing(show) ||
          show.with(patch: show.patch.with_opened(Patch::Block.first(show, slot), open))
      end

      private

      def refuse_opening(show)
        field = show.rig.field_of(slot)
        return nil if field.blocks? && field.opens

        Refusal.new(field: "slot", value: slot, allowed: "a slot in a block that this model can open",
          why: "The block of #{show.label(slot)} cannot be opened on this model.")
      end

      # A closed block must lie one to one from an aligned source, or be empty.
      def refuse_closing(show)
        return nil if open

        first = Patch::Block.first(show, slot)
        closed = show.with(patch: show.patch.with_opened(first, false))
        return nil if Patch::Block.in_line?(closed, slot)

        Refusal.new(field: "slot", value: slot, allowed: "a block that lies one to one from one block of sources",
          why: "The block of #{show.label(slot)} has single choices in it; lay it straight before you close it.")
      end
    end
  end
end

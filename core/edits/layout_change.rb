# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Not an edit itself: sets many slots at once to what they are to take, when every one
    # of them may take it and every closed block still lies in line. All or nothing.
    module LayoutChange
      module_function

      # @param takes [Hash{String => Patch::Pick, nil}]
      # @return [Show, Refusal]
      def apply(show, takes)
        refusal = takes.filter_map { |slot, take| Edits.refuse_slot(show, slot) || (take && Sources.refuse(show, slot, take.from, take.tap, take.delay_ms)) }.first
        return refusal if refusal

        changed = show.with(patch: show.patch.with_slots(takes))
        broken = takes.keys.find { |slot| !Patch::Block.in_line?(changed, slot) }
        broken ? refuse_block(show, broken) : changed
      end

      def refuse_block(show, slot)
        slots = Patch::Block.slots(show, slot)
        Refusal.new(field: "slots", value: slot, allowed: "whole blocks of #{slots.size}, or an opened block",
          why: "#{show.label(slots.first)}–#{Endpoint.parse(slots.last).number} is patched as one block, and this would put it out of line. Move whole blocks of #{slots.size}, or open the block to single choices.")
      end
      private_class_method :refuse_block
    end
  end
end

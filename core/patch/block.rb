# frozen_string_literal: true

module Loomshuttle
  module Patch
    # Which slots move together when one of them is patched.
    module Block
      module_function

      # @return [Array<String>] ids of the slot's block, or the slot alone where its field
      #   has no blocks or the block is opened
      def slots(show, slot_id)
        field = show.rig.field_of(slot_id)
        slot = Endpoint.parse(slot_id)
        return [slot_id] if !field&.blocks? || show.patch.opened.include?(first(show, slot_id))

        field.block_of(slot.number).map { |number| slot.at(number) }
      end

      # Whether a block that moves as one lies one to one from one block of sources, or is
      # empty. Single slots always do.
      def in_line?(show, slot_id)
        slots = slots(show, slot_id)
        return true if slots.size == 1

        takes = slots.map { |id| show.patch.slots[id] }
        return takes.none? unless takes.all?

        first = Endpoint.parse(takes.first.from)
        ((first.number - 1) % slots.size).zero? && takes.each_with_index.all? { |take, i| take.from == first.at(first.number + i) }
      end

      # @return [String] what names the slot's group of slots that move together
      def first_or_self(show, slot_id)
        slots(show, slot_id).first
      end

      # @return [String] id of the first slot of the block, the name of the block, opened
      #   or not
      def first(show, slot_id)
        slot = Endpoint.parse(slot_id)
        slot.at(show.rig.field_of(slot_id).block_of(slot.number).first)
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Why two places cannot be joined, in the words of whoever holds one of them over the other, and
    # the way out.
    module JoinRefusals
      module_function

      # An edit was found and cannot be made.
      #
      # @param made [Edit, Refusal] what was to be laid
      # @param refusal [Refusal] why it cannot be
      # @return [Refusal]
      def of(show, one, other, made, refusal)
        return refusal if made.is_a?(Refusal)

        way = opened(show, made)
        refusal.with(why: "#{show.label(one)} cannot be laid on #{show.label(other)} as it is. #{refusal.why}", way: way)
      end

      # The same with the blocks in the way opened to single choices.
      #
      # @return [Refusal::Way, nil]
      def opened(show, made)
        blocks = slots(made).map { |slot| Patch::Block.slots(show, slot) }.select { |slots| slots.size > 1 && show.rig.field_of(slots.first).opens }.uniq
        return nil if blocks.empty?

        edit = Group.new(edits: [*blocks.map { |slots| OpenBlock.new(slot: slots.first, open: true) }, *(made.is_a?(Group) ? made.edits : [made])])
        return nil if edit.apply(show).is_a?(Refusal)

        Refusal::Way.new(label: "Open #{Words::Runs.places(show, blocks.flatten)} to single choices, and lay it", edit: edit)
      end

      def slots(made)
        case made
        when Group then made.edits.flat_map { |edit| slots(edit) }
        when Connect then [made.slot]
        else []
        end
      end

      # No edit joins them.
      #
      # @return [Refusal]
      def nothing(show, one, other)
        Refusal.new(field: "to", value: other, allowed: "a place that can take #{show.label(one)}",
          why: "Nothing can be laid between #{show.label(one)} and #{show.label(other)}#{why(show, one, other)}.")
      end

      def why(show, one, other)
        row = [one, other].find { |id| show.rows.key?(id) }
        return " unless #{show.label(row)} is plugged in: lay it on a socket first" if row && !show.patch.plugs.key?(row) && show.rig.place([one, other].find { |id| id != row }.to_s)
        return ": both are places of one kind" if show.rig.kind_of(one) && Endpoint.parse(one).field == Endpoint.parse(other).field

        slot, held = [[other, one], [one, other]].filter_map { |to, from| Laying.slot_behind(show, to)&.then { |id| [id, from] } }.first
        return ": neither takes anything from a patch" unless slot

        ": #{show.label(slot)} takes #{Words::Runs.list(taken(show, slot))}, and #{show.label(held)} arrives at none of them"
      end

      # What a slot takes, family by family, as it is called on its device.
      def taken(show, slot)
        field = show.rig.field_of(slot)
        return ["output sockets"] if field.takes?("*")

        device = show.rig.place(slot).device
        field.takes.filter_map { |family| device.family(family) }.map { |family| Words::Runs.plural(family.label.to_s, [1, 2]) }.first(4)
      end
      private_class_method :opened, :slots, :why, :taken
    end
  end
end

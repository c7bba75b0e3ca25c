# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Writes many slots at once, as somebody types or pastes them: what each takes, at which
    # tap, with how much delay; nil frees a slot. A source may be named by the place where it
    # is plugged in ("box-a/mic/9"): the slot takes the lane on which it arrives. What is left
    # out of a tap or delay stays as it was where the source stays. Of a block that moves as one
    # a single slot is enough: the others follow one to one. All or nothing.
    #
    # takes  slot id => {"from" =>, "tap" =>, "delay_ms" =>} or nil
    Lay = Edit.of("lay", takes: :takes) do
      def apply(show)
        made = {}
        takes.each do |slot, given|
          refusal = Edits.refuse_slot(show, slot)
          return refusal if refusal

          taken = take(show, slot, given)
          return taken if taken.is_a?(Refusal)

          made[slot] = taken
        end
        LayoutChange.apply(show, with_blocks(show, made))
      end

      private

      # Slots that were not named follow the first named one of their block.
      def with_blocks(show, made)
        made.reduce(made) do |all, (slot, taken)|
          (Patch::Block.slots(show, slot) - all.keys).to_h { |other| [other, follower(slot, taken, other)] }.merge(all)
        end
      end

      def follower(slot, taken, other)
        from = taken && Endpoint.parse(taken.from)
        from && taken.with(from: from.onward(Endpoint.parse(other).number - Endpoint.parse(slot).number))
      end

      def take(show, slot, given)
        return nil if given.nil?

        before = show.patch.slots[slot]
        named = given["from"] || before&.from or return nothing_to_change(show, slot)
        from = Signal::Route.into(show, named, slot) || named
        same = before&.from == from
        Patch::Pick.new(from: from,
          tap: given["tap"] || (same ? before.tap : default_tap(show, from)),
          delay_ms: (given["delay_ms"] || (same ? before.delay_ms : 0.0)).to_f)
      end

      def default_tap(show, from) = show.rig.family_of(from)&.default_tap

      def nothing_to_change(show, slot)
        Refusal.new(field: "takes/#{slot}",
          value: nil,
          allowed: "a source",
          why: "#{show.label(slot)} takes nothing, so it has no tap and no delay.")
      end
    end
  end
end

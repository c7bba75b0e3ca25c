# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Patches a source into a slot. Where slots move as a block, the whole block follows,
    # one to one, and the source must lie at the same place in a block of its own.
    Connect = Edit.of("connect", slot: :id, from: :id, tap: [:id, nil], delay_ms: [:number, 0.0]) do
      def apply(show)
        refusal = Edits.refuse_slot(show, slot) || Sources.refuse(show, slot, from, tap, delay_ms) || out_of_line(show)
        refusal || show.with(patch: show.patch.with_slots(changes(show)))
      end

      private

      def changes(show)
        shift = Endpoint.parse(from).number - Endpoint.parse(slot).number if blocked?(show)
        Patch::Block.slots(show, slot).to_h do |id|
          [id, Patch::Pick.new(from: source_of(id, shift), tap: tap || default_tap(show), delay_ms: delay_ms)]
        end
      end

      def source_of(id, shift) = shift ? Endpoint.parse(from).at(Endpoint.parse(id).number + shift) : from
      def default_tap(show) = show.rig.family_of(from)&.default_tap

      def blocked?(show) = Patch::Block.slots(show, slot).size > 1

      # Where a source of the same place in its block goes, and whether the block can be opened.
      def ways(show, slots)
        place = (Endpoint.parse(from).number - 1) % slots.size
        there = show.places(show.rig.place(slot).device, Endpoint.parse(slot).family).select { |id| show.rig.present?(id) && (Endpoint.number(id) - 1) % slots.size == place }
        fits = "It goes on #{Words::Runs.places(show, there)}"
        show.rig.field_of(slot).opens ? "#{fits}, or anywhere once the block is opened to single choices" : fits
      end

      def out_of_line(show)
        return nil unless blocked?(show)

        slots = show.rig.field_of(slot).block_of(Endpoint.parse(slot).number)
        first = Endpoint.parse(from).number - (Endpoint.parse(slot).number - slots.first)
        return nil if first.positive? && ((first - 1) % slots.size).zero?

        Refusal.new(field: "from", value: from, allowed: "a source at the same place in its own block of #{slots.size}",
          why: "#{show.label(slot)} is patched with its whole block #{slots.first}–#{slots.last}, and #{Signal::Route.words(show, from)} would " \
               "put the block out of line. #{ways(show, slots)}.")
      end
    end
  end
end

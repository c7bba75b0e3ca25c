# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Lets two slots take what the other took, whole blocks where they are patched as such;
    # two rows of the input list change their sockets.
    Swap = Edit.of("swap", one: :id, other: :id) do
      def apply(show)
        return plugs(show) if [one, other].all? { |id| show.rows.key?(id) }

        refusal = [one, other].filter_map { |id| Edits.refuse_slot(show, id) }.first || refuse_fields
        refusal || LayoutChange.apply(show, exchanged(show))
      end

      private

      def refuse_fields
        return nil if Endpoint.parse(one).field == Endpoint.parse(other).field

        Refusal.new(field: "other",
          value: other,
          allowed: "a slot of #{Endpoint.parse(one).field}",
          why: "Only two slots of one kind can be swapped, not #{one} and #{other}.")
      end

      def exchanged(show)
        mine, theirs = [one, other].map { |id| Patch::Block.slots(show, id) }
        mine, theirs = [one], [other] if mine.size != theirs.size || mine == theirs
        mine.zip(theirs).flat_map { |a, b| [[a, show.patch.slots[b]], [b, show.patch.slots[a]]] }.to_h
      end

      def plugs(show)
        patch = show.patch
        show.with(patch: patch.with_plug(one, patch.plugs[other]).with_plug(other, patch.plugs[one]))
      end
    end
  end
end

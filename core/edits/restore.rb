# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets slots to exactly what they took at another time, without the question whether
    # an engineer may choose it: they took it then. The inverse of the patching edits, and
    # how a swing turns back.
    Restore = Edit.of("restore", inside: true, slots: :kept) do
      def apply(show)
        refusal = slots.filter_map { |id, take| Edits.refuse_slot(show, id) || (take && Edits.refuse_source(show, take.from)) }.first
        refusal || show.with(patch: show.patch.with_slots(slots))
      end
    end
  end
end

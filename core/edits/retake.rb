# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Changes the tap or the delay of slots that take something already.
    Retake = Edit.of("retake", slots: :ids, tap: [:id, nil], delay_ms: [:number, nil]) do
      def apply(show)
        empty = slots.find { |id| !show.patch.slots.key?(id) }
        if empty
          return Refusal.new(field: "slots",
            value: empty,
            allowed: "slots that take something",
            why: "#{show.label(empty)} takes nothing, so it has no tap.")
        end

        LayoutChange.apply(show, slots.to_h { |id| [id, show.patch.slots[id].with(**{tap: tap, delay_ms: delay_ms}.compact)] })
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Changes the tap or the delay of slots that take something already.
    Retake = Value.of(:slots, tap: nil, delay_ms: nil) do
      include Reversed

      def self.from_h(hash) = new(slots: Array(hash.fetch("slots")), tap: hash["tap"], delay_ms: hash["delay_ms"]&.to_f)
      def to_data = {kind: "retake", slots: slots, tap: tap, delay_ms: delay_ms}

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

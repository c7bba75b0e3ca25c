# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Turns a run of slots round: the first takes what the last took.
    Reverse = Value.of(:slots) do
      include Reversed

      def self.from_h(hash) = new(slots: Array(hash.fetch("slots")))
      def to_data = {kind: "reverse", slots: slots}
      def apply(show) = LayoutChange.apply(show, slots.zip(slots.reverse.map { |id| show.patch.slots[id] }).to_h)
    end
  end
end

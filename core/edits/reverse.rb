# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Turns a run of slots round: the first takes what the last took.
    Reverse = Edit.of("reverse", slots: :ids) do
      def apply(show) = LayoutChange.apply(show, slots.zip(slots.reverse.map { |id| show.patch.slots[id] }).to_h)
    end
  end
end

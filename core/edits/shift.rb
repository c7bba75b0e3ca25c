# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Moves what slots of one field take by so many numbers: a whole run, or a block by its
    # own size. Slots that are left behind are cleared, slots that are met are written over.
    Shift = Edit.of("shift", slots: :ids, by: :whole) do
      def apply(show)
        moved = slots.to_h { |id| [Endpoint.parse(id).onward(by), show.patch.slots[id]] }
        LayoutChange.apply(show, slots.to_h { |id| [id, nil] }.merge(moved))
      end
    end
  end
end

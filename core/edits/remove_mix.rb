# frozen_string_literal: true

module Loomshuttle
  module Edits
    # A mix of roles goes, off all lanes that take it.
    RemoveMix = Edit.of("remove_mix", mix: :id) do
      def apply(show)
        gone = show.mixes[mix] or return Refusal.new(field: "mix", value: mix, allowed: show.mixes.keys.join(", "), why: "There is no mix #{mix}.")

        slots = show.patch.slots.reject { |_, pick| pick.from == gone.endpoint }
        show.with(mixes: show.mixes.except(mix).freeze, patch: show.patch.with(slots: slots.freeze))
      end
    end
  end
end

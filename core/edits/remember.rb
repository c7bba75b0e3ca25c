# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets what the swing remembers. Always part of a swing's group, never alone.
    Remember = Edit.of("remember", inside: true, home: [:kept, {}.freeze], opened: [:ids, [].freeze], keep: [:ids, [].freeze], turned: [:ids, [].freeze]) do
      def apply(show)
        refusal = state.home.filter_map { |id, take| Edits.refuse_slot(show, id) || (take && Edits.refuse_source(show, take.from)) }.first || refuse_places(show)
        refusal || show.with(swung: state)
      end

      # @return [Patch::Swung]
      def state = Patch::Swung.new(**to_h)

      private

      def refuse_places(show)
        wrong = [*state.opened, *state.keep].find { |id| !show.rig.named?(id) } || state.turned.find { |id| !show.rig.named?(id) && !show.rig.devices.key?(id) }
        wrong && Refusal.new(field: "places", value: wrong, allowed: "places of this rig", why: "There is no #{wrong} in this rig.")
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets what the swing remembers. Always part of a swing's group, never alone.
    Remember = Value.of(:state) do
      def self.from_h(hash) = new(state: Exchange::ShowFile.check(hash.compact))
      def to_data = {kind: "remember", **Exchange::ShowFile.check_data(state)}

      def apply(show)
        refusal = state.home.filter_map { |id, take| Edits.refuse_slot(show, id) || (take && Edits.refuse_source(show, take.from)) }.first || refuse_places(show)
        refusal || show.with(check: state)
      end

      def inverse(show) = with(state: show.check)

      private

      def refuse_places(show)
        wrong = [*state.opened, *state.keep].find { |id| !show.rig.named?(id) } || state.turned.find { |id| !show.rig.named?(id) && !show.rig.devices.key?(id) }
        wrong && Refusal.new(field: "places", value: wrong, allowed: "places of this rig", why: "There is no #{wrong} in this rig.")
      end
    end
  end
end

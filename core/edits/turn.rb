# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Switches channels, or a whole desk, over to their second set, or back to the stage.
    Turn = Edit.of("turn", places: :ids, over: [:flag, true]) do
      def apply(show)
        wrong = places.find { |place| !switched?(show, place) }
        if wrong
          return Refusal.new(field: "places",
            value: wrong,
            allowed: "channels that have a switch of their own, or a desk that has one",
            why: "#{wrong} has no switch between two sets.")
        end

        show.with(patch: places.reduce(show.patch) { |patch, place| patch.with_turned(place, over) })
      end

      private

      def switched?(show, place)
        desk = show.rig.devices[place]
        return desk.profile.holds == "desk" if desk

        known = show.rig.place(place)
        !known.nil? && known.kind == "channel" && known.device.profile.holds == "channel"
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Capture
    # What a track stood for when it was recorded. It goes into the take's journal, so that a take
    # says what it was whatever becomes of its show.
    #
    #   Origin.noted(show, plan).sides.first
    #   # => {track: "t-9", name: "Accordion", row: "r-9", source: "Accordion", lane: 9, tap: "raw", gear: "Box A socket 9"}
    module Origin
      # Beside track and name, each where it is known.
      FIELDS = %i[row source lane tap gear].freeze

      module_function

      # @param plan [TrackPlan]
      # @return [TrackPlan]
      def noted(show, plan) = plan.with(sides: plan.sides.map { |side| side.merge(of(show, show.tracks[side[:track]])) })

      # @return [Hash]
      def of(show, track)
        return {} unless track

        row = show.rows[track.row]
        {row: row&.id, source: row&.name, lane: lane(show, track), tap: tap(show, track), gear: gear(show, track)}.compact
      end

      def lane(show, track) = show.patch.slots[track.place]&.from&.then { |from| Endpoint.parse(from).number }

      # The first on the way back at which somebody chose where to listen.
      def tap(show, track)
        show.graph.line_back(track.place).each_cons(2) do |to, _|
          edge = show.graph.back(to) if show.patch.slots.key?(to)
          return edge.tap if edge&.tap
        end
        nil
      end

      # Where the source is plugged in; of a mix or a role where the track takes it from.
      def gear(show, track)
        socket = show.patch.plugs[track.row]
        return show.rig.label(socket) if socket

        from = show.patch.slots[track.place]&.from
        from && show.rig.label(from)
      end
      private_class_method :lane, :tap, :gear
    end
  end
end

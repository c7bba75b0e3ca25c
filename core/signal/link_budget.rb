# frozen_string_literal: true

module Loomshuttle
  module Signal
    # How many lanes of each cable are used and there, now and at other sample rates.
    #
    #   LinkBudget.of(show, show.rig.cables.first, 96_000)
    #     # => {lanes: 24, a_to_b: 12, b_to_a: 2, highest: 12, lost: []}
    module LinkBudget
      module_function

      # @param rate_hz [Integer] the rate to ask about; the patch is the one of now
      # @return [Hash] lanes each way; used lanes each way; the highest lane in use; the
      #   places whose signal the cable would lose at that rate
      def of(show, cable, rate_hz = show.sample_rate_hz)
        lanes = show.rig.lanes_of(cable, rate_hz)
        used = used_lanes(show, cable)
        {lanes: lanes, a_to_b: used[:a_to_b].size, b_to_a: used[:b_to_a].size, highest: used.values.flatten(1).map(&:first).max || 0,
         lost: used.values.flatten(1).select { |lane, _| lane > lanes }.map(&:last)}
      end

      # The places whose signal the cable loses now: only lanes beyond its last are looked at,
      # so that asking after every edit costs next to nothing.
      #
      # @return [Array<String>]
      def lost(show, cable) = used_lanes(show, cable, show.rig.lanes_of(cable, show.sample_rate_hz) + 1).values.flatten(1).map(&:last)

      # Lanes that carry a source or a mix, as [lane, place].
      def used_lanes(show, cable, first = 1)
        a, b = cable.ends.map { |name| show.rig.port(name) }
        {a_to_b: way(show, a, b, first, cable.offset_a_to_b), b_to_a: way(show, b, a, first, cable.offset_b_to_a)}
      end

      def way(show, (sender, out), (receiver, into), first, offset)
        return [] unless out.lanes_out && into.lanes_in

        most = [sender.profile.families[out.lanes_out].count, receiver.profile.families[into.lanes_in].count - offset].min
        (first..most).filter_map do |lane|
          from = Endpoint.id(sender.id, out.lanes_out, lane)
          [lane, from] if carries?(show, from)
        end
      end

      # A lane counts when a source or a mix arrives at its sending end.
      def carries?(show, id)
        origin = show.graph.line_back(id).last
        show.rows.key?(origin) || origin.start_with?("songs/") || show.graph.to(origin).any? { |edge| edge.kind == :send } || show.track_at(origin)
      end
      private_class_method :used_lanes, :way, :carries?
    end
  end
end

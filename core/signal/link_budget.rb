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
        used = ways(show, cable).map { |way| carried(show, way, 1) }
        {lanes: lanes, a_to_b: used[0].size, b_to_a: used[1].size, highest: used.flatten(1).map(&:first).max || 0,
         lost: ways(show, cable).flat_map { |way| carried(show, way, [lanes, way.room].min + 1) }.map(&:last)}
      end

      # One way over a cable: who sends from which family, who receives, and how many of the
      # sender's lanes the receiver has places for.
      Way = Value.of(:sender, :out, :receiver, :into, :offset) do
        def there? = !out.lanes_out.nil? && !into.lanes_in.nil?
        def room = there? ? receiver.profile.families[into.lanes_in].count - offset : 0
        def sent = there? ? sender.profile.families[out.lanes_out].count : 0
        def place(lane) = Endpoint.id(sender.id, out.lanes_out, lane)
      end

      # What the cable loses now, each way: only lanes beyond the last that arrives are looked at,
      # so that asking after every edit costs next to nothing.
      #
      # @return [Array<Array(Way, Array<String>)>] places whose signal is lost
      def lost(show, cable)
        lanes = show.rig.lanes_of(cable, show.sample_rate_hz)
        ways(show, cable).map { |way| [way, carried(show, way, [lanes, way.room].min + 1).map(&:last)] }.reject { |_, lost| lost.empty? }
      end

      def ways(show, cable)
        a, b = cable.ends.map { |name| show.rig.port(name) }
        [Way.new(sender: a[0], out: a[1], receiver: b[0], into: b[1], offset: cable.offset_a_to_b),
          Way.new(sender: b[0], out: b[1], receiver: a[0], into: a[1], offset: cable.offset_b_to_a)]
      end

      # Lanes from a first one on that carry a source or a mix, as [lane, place].
      def carried(show, way, first)
        (first..way.sent).filter_map { |lane| [lane, way.place(lane)] if carries?(show, way.place(lane)) }
      end

      # A lane counts when a source or a mix arrives at its sending end.
      def carries?(show, id)
        Carried.anything?(show, id)
      end
      private_class_method :ways, :carried, :carries?
    end
  end
end

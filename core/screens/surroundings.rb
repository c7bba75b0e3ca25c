# frozen_string_literal: true

module Loomshuttle
  module Screens
    # What belongs around one desk of a rig: the boxes that it hears, the computers at its
    # card, the rows that are meant for it. With a single desk that is everything.
    #
    #   Surroundings.new(show, desk).boxes   # => [Rig::Device, ...]
    class Surroundings
      # @param desk [Rig::Device, nil]
      def initialize(show, desk)
        @show = show
        @desk = desk
        @alone = show.rig.all_of("desk").size < 2
      end

      def boxes = near("box")
      def interfaces = near("interface")

      # Other desks whose sockets this one hears over a link between them.
      def neighbours = @show.rig.all_of("desk").select { |other| other != @desk && heard?(other) }

      # Computers that a cable joins with the desk; before any is, the only desk has the first.
      def computers
        found = @show.rig.all_of("computer")
        joined = found.select { |computer| joined?(computer) }
        (joined.empty? && @alone) ? found.first(1) : joined
      end

      # Rows in the sockets around the desk, and those that are plugged in nowhere yet.
      def rows
        return @show.rows.keys if @alone

        gear = [*boxes, *neighbours, @desk].map(&:id)
        @show.rows.keys.select { |row| @show.patch.plugs[row].nil? || gear.include?(Endpoint.parse(@show.patch.plugs[row]).device) }
      end

      private

      # With several desks a box belongs to those that it leads to, by fixed wires or by what
      # another desk sends on; one that leads nowhere yet belongs to all.
      def near(kind)
        found = @show.rig.all_of(kind)
        return found if @alone

        found.select { |device| led_to?(device) || heard?(device) || @show.rig.all_of("desk").none? { |desk| leads?(device, desk) } }
      end

      def led_to?(device) = leads?(device, @desk)

      # Either way: a box has sockets in and out.
      def leads?(device, desk)
        ends = %w[mic out-socket].flat_map { |family| @show.places(device, family) }
        ends.any? { |id| (@show.graph.fixed_onward(id) + wiring.back(id)).any? { |place| place.start_with?("#{desk.id}/") } }
      end

      def wiring = Signal::Wiring.of(@show.rig, @show.sample_rate_hz)

      # Whether one of the desk's channels gets what is plugged in there.
      def heard?(device) = heard.include?(device.id)

      def heard
        @heard ||= @show.once([:heard, @desk.id]) do
          Signal::Sources.channels(@show).filter_map { |channel, row|
            if channel.start_with?("#{@desk.id}/") && @show.patch.plugs[row]
              Endpoint.parse(@show.patch.plugs[row]).device
            end
          }.to_set
        end
      end

      def joined?(computer)
        !@desk.nil? && @show.rig.cables.any? { |cable| cable.ends.map { |name| name.split("/").first }.to_set == [computer.id, @desk.id].to_set }
      end
    end
  end
end

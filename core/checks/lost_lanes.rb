# frozen_string_literal: true

module Loomshuttle
  module Checks
    # What a cable cannot carry: the ground of link-lanes and port-mode, which differ in the
    # cure alone.
    module LostLanes
      # One way over a cable with the places whose signal it loses now, and how many lanes arrive.
      Loss = Value.of(:cable, :way, :lanes, :lost) do
        # Whether the receiver has no places for them, however many the link carries.
        def by_receiver? = way.room < lanes
        def arriving = [lanes, way.room].min
      end

      module_function

      # @return [Array<Loss>]
      def of(show)
        show.once(:lost_lanes) do
          show.rig.cables.flat_map do |cable|
            Signal::LinkBudget.lost(show, cable).map { |way, lost| Loss.new(cable: cable, way: way, lanes: show.rig.lanes_of(cable, show.sample_rate_hz), lost: lost) }
          end
        end
      end

      # Ports of the cable that are in a mode with fewer lanes than another mode of theirs.
      #
      # @return [Array<Array(Rig::Device, Rig::Port, String)>] with the mode that would do
      def narrow_ports(show, loss)
        wanted = loss.lost.map { |id| Endpoint.number(id) }.max
        loss.cable.ends.map { |name| show.rig.port(name) }.select { |device, port| device.lanes_at(port, show.sample_rate_hz) < wanted }
          .map { |device, port| [device, port, port.widest(show.sample_rate_hz)] }
      end

      # Whether wider modes would carry all of it.
      def by_mode?(show, loss)
        wanted = loss.lost.map { |id| Endpoint.number(id) }.max
        ports = narrow_ports(show, loss)
        wanted <= loss.way.room && ports.any? && ports.all? { |_, port, mode| port.lanes_at(show.sample_rate_hz, mode) >= wanted }
      end

      def sources(show, loss) = loss.lost.map { |id| show.label(show.graph.line_back(id).last) }.uniq
    end
  end
end

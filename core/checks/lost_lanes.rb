# frozen_string_literal: true

module Loomshuttle
  module Checks
    # What a cable cannot carry: the ground of link-lanes and port-mode, which differ in the
    # cure alone.
    module LostLanes
      # One cable with the places whose signal it loses now.
      Loss = Value.of(:cable, :lanes, :lost)

      module_function

      # @return [Array<Loss>]
      def of(show)
        show.once(:lost_lanes) do
          show.rig.cables.filter_map do |cable|
            lost = Signal::LinkBudget.lost(show, cable)
            Loss.new(cable: cable, lanes: show.rig.lanes_of(cable, show.sample_rate_hz), lost: lost) if lost.any?
          end
        end
      end

      # Ports of the cable that are in a mode with fewer lanes than another mode of theirs.
      #
      # @return [Array<Array(Rig::Device, Rig::Port, String)>] with the mode that would do
      def narrow_ports(show, loss)
        wanted = loss.lost.map { |id| Endpoint.parse(id).number }.max
        loss.cable.ends.map { |name| show.rig.port(name) }.select { |device, port| device.lanes_at(port, show.sample_rate_hz) < wanted }
          .map { |device, port| [device, port, port.widest(show.sample_rate_hz)] }
      end

      # Whether wider modes would carry all of it.
      def by_mode?(show, loss)
        wanted = loss.lost.map { |id| Endpoint.parse(id).number }.max
        ports = narrow_ports(show, loss)
        ports.any? && ports.all? { |_, port, mode| port.lanes_at(show.sample_rate_hz, mode) >= wanted }
      end

      def sources(show, loss) = loss.lost.map { |id| show.label(show.graph.line_back(id).last) }.uniq
    end
  end
end

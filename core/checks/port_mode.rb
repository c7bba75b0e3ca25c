# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A port is in a mode with fewer lanes than the patch needs: the two-channel mode that
    # cost many a rehearsal.
    module PortMode
      module_function

      def findings(show)
        LostLanes.of(show).select { |loss| LostLanes.by_mode?(show, loss) }.group_by(&:cable).each_value.map { |losses| finding(show, both_ways(losses)) }
      end

      def both_ways(losses) = losses.first.with(lost: losses.flat_map(&:lost).uniq { |id| Endpoint.number(id) })

      def finding(show, loss)
        ports = LostLanes.narrow_ports(show, loss)
        device, port, wider = ports.first
        Finding.new(rule: "port-mode", severity: "stop", step: "rig", title: "#{device.name} #{port.label} is in mode #{mode(device, port)}",
          what: "#{device.name} #{port.label} carries #{loss.lanes} lanes in mode #{mode(device, port)}; #{Words::Runs.plural("lane", loss.lost)} #{Words::Runs.of(loss.lost)} (#{Words::Runs.names(LostLanes.sources(show, loss))}) need #{wider}.",
          why: "The computer sees only the first lanes, and nothing says so.", endpoints: ["#{device.id}/#{port.name}", *loss.lost],
          mend: mend(show, ports))
      end

      def mend(show, ports)
        edits = ports.map { |device, port, mode| Edits::SetDevice.new(id: device.id, modes: {port.name => mode}) }
        Soundness.mend(show, "Mend: set #{ports.map { |device, _, mode| "#{device.name} to #{mode}" }.join(" and ")}", edits)
      end

      def mode(device, port) = device.modes[port.name] || port.modes.keys.first
      private_class_method :both_ways, :finding, :mend, :mode
    end
  end
end

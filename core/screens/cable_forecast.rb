# frozen_string_literal: true

module Loomshuttle
  module Screens
    # Says what a cable would do before it is plugged in.
    module CableForecast
      module_function

      # @return [String, Refusal] sentences
      def of(show, a, b)
        laid = Edits::SetCable.new(a: a, b: b).apply(show)
        return laid if laid.is_a?(Refusal)

        cable = laid.rig.cables.find { |one| one.id == "#{a}~#{b}" }
        [lanes(laid, cable), places(laid, cable), clock(show, laid)].compact.join(" ")
      end

      def lanes(show, cable)
        count = show.rig.lanes_of(cable, show.sample_rate_hz)
        (device_a, port_a), (device_b, port_b) = cable.ends.map { |name| show.rig.port(name) }
        ways = [(device_a.name if port_a.lanes_out && port_b.lanes_in), (device_b.name if port_b.lanes_out && port_a.lanes_in)].compact
        "#{port_a.standard}, #{count} lanes #{(ways.size == 2) ? "each way" : "from #{ways.first}"} at #{show.sample_rate_hz / 1000.0} kHz.".sub(".0 kHz", " kHz")
      end

      # Where sockets of a box would arrive.
      def places(show, cable)
        told = cable.ends.filter_map { |name| show.rig.port(name).first }
          .select { |device| device.profile.kind == "box" }
          .filter_map do |box|
          ends = [1, box.family("mic").count].map { |number|
            show.graph.fixed_onward(Endpoint.id(box.id, "mic", number)).reverse.find do |id|
              show.rig.place(id).device.profile.kind == "desk"
            end
          }
          "#{box.name}'s sockets arrive on #{show.rig.label(ends.first)}–#{Endpoint.parse(ends.last).number}." if ends.all?
        end
        told.join(" ") unless told.empty?
      end

      def clock(before, after)
        gained = Rig::Clock.of(after.rig).ways.keys - Rig::Clock.of(before.rig).ways.keys
        "#{gained.map { |id| after.rig.devices[id].name }.join(", ")} can follow the clock through it." if gained.any?
      end
      private_class_method :lanes, :places, :clock
    end
  end
end

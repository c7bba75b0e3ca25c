# frozen_string_literal: true

module Loomshuttle
  module Rig
    # Whether a cable can be plugged in between two ports.
    module Plugging
      # Line outputs fit line inputs whether they are balanced or not.
      ANALOGUE = ["line", "unbalanced line"].freeze
      private_constant :ANALOGUE

      module_function

      # @return [Refusal, nil]
      def refuse(rig, a, b)
        ports = [a, b].map { |name| rig.port(name) }
        unknown = [a, b].zip(ports).find { |_, port| port.nil? }&.first
        return refusal((unknown == a) ? "a" : "b", unknown, "a device/port of this rig", "There is no port #{unknown} in this rig.") if unknown
        if ports.map { |device, _| device.id }.uniq.size == 1
          return refusal("b", b, "a port of another device", "A cable from #{a} back into the same device joins nothing.")
        end

        refuse_kinds(ports, a, b) || refuse_ways(ports, a, b) || taken(rig, ports, a, b)
      end

      def refuse_kinds(ports, a, b)
        kinds = ports.map { |_, port| port.standard }
        return nil if kinds.uniq.size == 1 || (kinds - ANALOGUE).empty?

        refusal("b",
          b,
          "a #{kinds.first} port",
          "#{name(ports[0])} speaks #{kinds[0]} and #{name(ports[1])} speaks #{kinds[1]}: no cable joins them.")
      end

      def refuse_ways(ports, a, b)
        one, other = ports.map(&:last)
        return nil if (one.lanes_out && other.lanes_in) || (other.lanes_out && one.lanes_in)

        refusal("b",
          b,
          "an input for an output",
          "#{name(ports[0])} and #{name(ports[1])} both only #{one.lanes_out ? "send" : "receive"}: nothing would run.")
      end

      # The same cable may be laid again, to change its kind or length.
      def taken(rig, ports, a, b)
        full = [a, b].zip(ports).find { |name, (_, port)| !port.shared && rig.cables_at(name).any? { |cable| cable.ends.sort != [a, b].sort } }
        full && refusal((full.first == a) ? "a" : "b",
          full.first,
          "a free port",
          "#{name(full.last)} has a cable already, to #{name(rig.port(rig.cables_at(full.first).first.other_end(full.first)))}.")
      end

      def name((device, port)) = "#{device.name} #{port.label}"
      def refusal(field, value, allowed, why) = Refusal.new(field: field, value: value, allowed: allowed, why: why)
      private_class_method :refuse_kinds, :refuse_ways, :taken, :name, :refusal
    end
  end
end

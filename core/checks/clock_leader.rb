# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Exactly one device leads the clock, and every follower's port leads to it.
    module ClockLeader
      WHY = "Digital gear without one common clock clicks, drops out or falls silent."
      private_constant :WHY

      module_function

      # The clock hangs on the rig alone, so it is looked at once a rig.
      def findings(show) = show.rig.once(:clock_findings) { look(show) }

      def look(show)
        clock = Rig::Clock.of(show.rig)
        return [] if show.rig.devices.values.none?(&:digital?)

        [*leaders(show, clock.leaders), *clock.faults.group_by(&:at).map { |at, faults| followers(show, clock, at, faults) }]
      end

      def leaders(show, leaders)
        return [] if leaders.size == 1
        return [nobody(show)] if leaders.empty?

        names = leaders.map(&:name).join(" and ")
        [Finding.new(rule: "clock-leader",
          severity: "stop",
          step: "rig",
          title: "#{leaders.size} devices lead the clock",
          what: "#{names} both lead the clock.".sub("both", (leaders.size > 2) ? "all" : "both"),
          why: WHY,
          endpoints: leaders.map(&:id),
          mend: one_leader(show, leaders))]
      end

      def nobody(show)
        desk = show.rig.first_of("desk")
        Finding.new(rule: "clock-leader",
          severity: "stop",
          step: "rig",
          title: "Nobody leads the clock",
          what: "None of #{show.rig.devices.values.count(&:digital?)} digital devices leads the clock.",
          why: WHY,
          endpoints: show.rig.devices.values.select(&:digital?).map(&:id),
          mend: desk && Mend.new(label: "Mend: let #{desk.name} lead", edits: [Edits::SetDevice.new(id: desk.id, clock: "leader")]))
      end

      # The others follow the first, where a cable leads there directly.
      def one_leader(show, leaders)
        first, *others = leaders
        edits = others.map { |device| way_to(show, device, first)&.then { |port| Edits::SetDevice.new(id: device.id, clock: port) } }
        Mend.new(label: "Mend: let only #{first.name} lead", edits: edits) if edits.all?
      end

      # @return [String, nil] the port of a device whose cable leads to another
      def way_to(show, device, leader)
        device.profile.ports.values.select(&:digital?).map(&:name).find do |port|
          name = "#{device.id}/#{port}"
          show.rig.cables_at(name).any? { |cable| show.rig.port(cable.other_end(name)).first == leader }
        end
      end

      # One finding for all that hang on the same break.
      def followers(show, clock, at, faults)
        fault = faults.find { |one| one.device == at } || faults.first
        others = faults.map(&:device) - [fault.device]
        Finding.new(rule: "clock-leader",
          severity: "stop",
          step: "rig",
          title: "#{fault.device.name}#{" and #{others.size} behind it" if others.any?} #{others.any? ? "have" : "has"} no clock",
          what: [fault.words, (behind(fault.device, others) if others.any?)].compact.join(" "),
          why: WHY,
          endpoints: [fault.device, *others].map(&:id),
          mend: mend(show, clock, fault.device))
      end

      def behind(device, others) = "#{others.map(&:name).join(", ")} #{(others.size == 1) ? "hangs" : "hang"} on #{device.name}."

      def mend(show, clock, device)
        port = clock.leaders.filter_map { |leader| way_to(show, device, leader) }.first
        if port && port != device.clock
          Mend.new(label: "Mend: follow through #{port}", edits: [Edits::SetDevice.new(id: device.id, clock: port)])
        end
      end
      private_class_method :look, :leaders, :nobody, :one_leader, :way_to, :followers, :behind, :mend
    end
  end
end

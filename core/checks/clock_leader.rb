# frozen_string_literal: true

module Loomshuttle
  module Checks
    # In every island of gear that digital cables join, exactly one device leads the clock, and every
    # follower's port leads to it.
    module ClockLeader
      WHY = "Digital gear without one common clock clicks, drops out or falls silent."
      private_constant :WHY

      module_function

      # The clock hangs on the rig alone, so it is looked at once a rig.
      def findings(show) = show.rig.once(:clock_findings) { Rig::Clock.of(show.rig).islands.flat_map { |island| look(show, island) } }

      def look(show, island)
        clock = Rig::Clock.of(show.rig)
        leaders = island & clock.leaders
        return [nobody(show, island)] if leaders.empty? && island.size > 1

        faults = clock.faults.select { |fault| island.include?(fault.device) }.group_by(&:at)
        [*((leaders.size > 1) ? [several(show, island, leaders)] : []), *faults.map { |at, some| followers(show, island, leaders.first, at, some) }]
      end

      def several(show, island, leaders)
        names = Words::Runs.list(leaders.map(&:name))
        Finding.new(rule: "clock-leader",
          severity: "stop",
          step: "rig",
          title: "#{leaders.size} devices lead the clock",
          what: "#{names} #{(leaders.size > 2) ? "all" : "both"} lead the clock.",
          why: WHY,
          endpoints: leaders.map(&:id),
          mend: mend(show, "Mend: let only #{leaders.first.name} lead", island, leaders.first, leaders))
      end

      # One fact, however many follow; its mend sets the leader and all followers.
      def nobody(show, island)
        leader = island.find { |device| device.profile.kind == "desk" } || island.first
        Finding.new(rule: "clock-leader",
          severity: "stop",
          step: "rig",
          variant: "nobody",
          title: "Nobody leads the clock#{of(show, island)}",
          what: "None of #{island.size} digital devices leads the clock.",
          why: WHY,
          endpoints: island.map(&:id),
          mend: mend(show, "Mend: let #{leader.name} lead, the others follow", island, leader, island))
      end

      # Which gear, where there is more than one island.
      def of(show, island) = (Rig::Clock.of(show.rig).islands.size > 1) ? " of #{Words::Runs.names(island.map(&:name), 3)}" : ""

      # One finding for all that hang on the same break.
      def followers(show, island, leader, at, faults)
        fault = faults.find { |one| one.device == at } || faults.first
        others = faults.map(&:device) - [fault.device]
        port = leader && ways(show, leader)[fault.device.id]
        Finding.new(rule: "clock-leader",
          severity: "stop",
          step: "rig",
          variant: "lost",
          title: "#{fault.device.name}#{" and #{others.size} behind it" if others.any?} #{others.any? ? "have" : "has"} no clock",
          what: [fault.words, (behind(fault.device, others) if others.any?)].compact.join(" "),
          why: WHY,
          endpoints: [fault.device, *others].map(&:id),
          about: island.map { |device| [device.id, device.clock] },
          mend: port && mend(show, "Mend: follow through #{port}", island, leader, [fault.device, *others]))
      end

      def behind(device, others) = "#{Words::Runs.list(others.map(&:name))} #{(others.size == 1) ? "hangs" : "hang"} on #{device.name}."

      # Sets the leader, and of those that are wrong as few as will do, to the port that leads there.
      def mend(show, label, island, leader, wrong)
        ways = ways(show, leader)
        return nil unless island.all? { |device| device == leader || ways.key?(device.id) }

        edits = [wrong.first(1), wrong, island].map { |devices| setting(devices | [leader], leader, ways) }.find { |some| some.any? && right?(show, island, some) }
        edits && Mend.new(label: label, edits: edits)
      end

      def setting(devices, leader, ways)
        wanted = devices.to_h { |device| [device, (device == leader) ? "leader" : ways[device.id]] }
        wanted.reject { |device, clock| device.clock == clock }.map { |device, clock| Edits::SetDevice.new(id: device.id, clock: clock) }
      end

      def right?(show, island, edits)
        after = Edits::Group.new(edits: edits).apply(show)
        return false if after.is_a?(Refusal)

        clock = Rig::Clock.of(after.rig)
        ids = island.map(&:id)
        clock.leaders.count { |device| ids.include?(device.id) } == 1 && clock.faults.none? { |fault| ids.include?(fault.device.id) }
      end

      # @return [Hash{String => String}] device => the port through which it reaches the leader
      def ways(show, leader)
        found = {}
        queue = [leader]
        while (device = queue.shift)
          Rig::Clock.of(show.rig).neighbours(device).each do |other, port|
            next if other == leader || found.key?(other.id)

            found[other.id] = port
            queue << other
          end
        end
        found
      end
      private_class_method :look, :several, :nobody, :of, :followers, :behind, :mend, :setting, :right?, :ways
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Chains of boxes: places that two boxes claim, sockets that fall off the link's end,
    # outputs that two boxes both play, a chain that comes back to itself, a port with two
    # cables.
    module Chain
      module_function

      # They hang on the rig and its rate alone, so they are looked for once a rig; whether a mend takes
      # something away from somebody hangs on the patch.
      def findings(show)
        found = show.rig.once([:chain, show.sample_rate_hz]) do
          doubled_ports(show) + loops(show) + overlaps(show) + lost(show) + same_outputs(show) + holes(show)
        end
        found.map { |finding| (finding.mend.nil? || Soundness.sound?(show, finding.mend.edits)) ? finding : finding.with(mend: nil) }
      end

      def doubled_ports(show)
        show.rig.cables.flat_map(&:ends).tally.select { |name, count| count > 1 && !show.rig.port(name).last.shared }.keys.map do |name|
          device, port = show.rig.port(name)
          others = show.rig.cables_at(name).map { |cable| show.rig.port(cable.other_end(name)).first.name }
          Finding.new(rule: "chain", variant: "ports",
            severity: "stop",
            step: "rig",
            title: "#{device.name} #{port.label} has #{Words::Runs.count(others.size, "cable")}",
            what: "#{others.join(" and ")} are both plugged in at #{device.name} #{port.label}.",
            why: "A port takes one cable; one of these is not really there.",
            endpoints: [name],
            mend: Mend.new(label: "Mend: keep the cable to #{others.first}",
              edits: show.rig.cables_at(name).drop(1).map { |cable| Edits::RemoveCable.new(a: cable.a, b: cable.b) }))
        end
      end

      # Boxes whose links lead round to themselves.
      def loops(show)
        boxes(show).filter_map { |box| circle(show, box) }.uniq(&:to_set).map do |ids|
          names = ids.map { |id| show.rig.devices[id].name }
          Finding.new(rule: "chain", variant: "circle",
            severity: "stop",
            step: "rig",
            title: "#{names.join(" and ")} are chained in a circle",
            what: "The links go #{[*names, names.first].join(" to ")}.",
            why: "No socket of these boxes reaches a desk.",
            endpoints: ids)
        end
      end

      def circle(show, box)
        way = [box.id]
        while (up = upstream(show, way.last))
          return way.drop_while { |id| id != up } if way.include?(up)

          way << up
        end
      end

      # The device that a box's link leads to.
      def upstream(show, box_id)
        device = show.rig.devices[box_id]
        port = device.profile.ports.values.find { |one| one.lanes_out == "link-out" } or return nil
        name = "#{box_id}/#{port.name}"
        cable = show.rig.cables_at(name).first
        cable && cable.other_end(name).split("/").first
      end

      # Two fixed joins into one place.
      def overlaps(show)
        doubled = Signal::Wiring.of(show.rig, show.sample_rate_hz).edges.group_by(&:to).select { |_, edges| edges.size > 1 }
        doubled.group_by { |id, _| Endpoint.parse(id).field }.map do |_, places|
          ids = places.map(&:first)
          from = places.flat_map { |_, edges| edges.map { |edge| show.rig.device_of(edge.from).name } }.uniq
          Finding.new(rule: "chain", variant: "overlap",
            severity: "stop",
            step: "rig",
            title: "#{from.join(" and ")} claim the same places",
            what: "#{show.rig.label(ids.first).sub(/ \d+\z/, "").capitalize} #{Words::Runs.of(ids)} get a signal from #{from.join(" and ")}.",
            why: "Only one of them can arrive there.",
            endpoints: ids)
        end
      end

      # Sockets of a box that is on a chain to a desk, and that arrive nowhere.
      def lost(show)
        boxes(show).filter_map do |box|
          arrives, lost = show.places(box, "mic").partition { |id| at_desk?(show, id) }
          finding_lost(show, box, lost) if lost.any? && (arrives.any? || root(show, box.id))
        end
      end

      def at_desk?(show, id) = show.graph.fixed_onward(id).any? { |place| show.rig.place(place).device.profile.kind == "desk" }

      def finding_lost(_show, box, lost)
        Finding.new(rule: "chain", variant: "lost",
          severity: "warn",
          step: "rig",
          title: "#{box.name} sockets #{Words::Runs.of(lost)} have no lane to the desk",
          what: "The boxes before #{box.name} leave no lanes for its sockets #{Words::Runs.of(lost)}.",
          why: "Whatever is plugged in there reaches no desk.",
          endpoints: [box.id, *lost])
      end

      # @return [Array(String, Integer), nil] the desk's port at the head of the chain, and
      #   how many boxes stand before this one
      def root(show, box_id)
        seen = [box_id]
        while (up = upstream(show, seen.last)) && !seen.include?(up)
          return desk_port(show, seen.last) if show.rig.devices[up].profile.kind == "desk"

          seen << up
        end
      end

      def desk_port(show, box_id)
        port = show.rig.devices[box_id].profile.ports.values.find { |one| one.lanes_out == "link-out" }
        name = "#{box_id}/#{port.name}"
        show.rig.cables_at(name).first.other_end(name)
      end

      # Boxes whose outputs begin at a lane that is set, by the desk's port at their head.
      def with_offsets(show)
        boxes(show).select { |box| box.profile.settings.key?("output_offset") && root(show, box.id) }.group_by { |box| root(show, box.id) }
      end

      # Lanes between the outputs of two boxes that no box plays.
      def holes(show)
        with_offsets(show).filter_map do |port, chained|
          played = chained.flat_map { |box| range(box).to_a }.uniq
          missing = (1..played.max).to_a - played
          finding_hole(show, port, chained, missing) if missing.any?
        end
      end

      def finding_hole(show, port, chained, missing)
        desk, its = show.rig.port(port)
        Finding.new(rule: "chain", variant: "hole",
          severity: "note",
          step: "rig",
          title: "Lanes #{Words::Runs.text(missing)} of #{desk.name} #{its.label} reach no output",
          what: "The outputs of #{chained.map(&:name).join(" and ")} leave lanes #{Words::Runs.text(missing)} out.",
          why: "What the desk sends there is heard nowhere.",
          endpoints: chained.map(&:id))
      end

      def same_outputs(show)
        with_offsets(show).flat_map do |port, chained|
          chained.combination(2).select { |one, other| (range(one).to_a & range(other).to_a).any? }.map do |one, other|
            finding_same(show, port, one, other, chained)
          end
        end
      end

      def range(box) = box.setting("output_offset").then { |offset| (offset + 1)..(offset + box.family("out-socket").count) }

      def finding_same(show, port, one, other, chained)
        shared = (range(one).to_a & range(other).to_a)
        free = other.profile.settings["output_offset"].choices.find { |offset|
          chained.reject { |box| box == other }.none? do |box|
            (range(box).to_a & ((offset + 1)..(offset + other.family("out-socket").count)).to_a).any?
          end
        }
        Finding.new(rule: "chain", variant: "outputs", severity: "warn", step: "rig", title: "#{one.name} and #{other.name} play the same outputs",
          what: "Both take lanes #{Words::Runs.text(shared)} of #{show.rig.port(port).then { |desk, its| "#{desk.name} #{its.label}" }} to their outputs.",
          why: "A wedge at one box would play what is meant for the other.", endpoints: [one.id, other.id],
          mend: free && Mend.new(label: "Mend: let #{other.name}'s outputs begin behind lane #{free}",
            edits: [Edits::SetDevice.new(id: other.id, settings: {"output_offset" => free})]))
      end

      def boxes(show) = show.rig.all_of("box")
      private_class_method :doubled_ports, :loops, :circle, :upstream, :overlaps, :lost, :at_desk?, :finding_lost,
        :root, :desk_port, :with_offsets, :holes, :finding_hole, :same_outputs, :range, :finding_same, :boxes
    end
  end
end

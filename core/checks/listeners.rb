# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Who hears nothing, and what is sent where nobody listens: a listener that gets nothing any more,
    # one that is plugged in nowhere, a mix that leaves by a socket into which nobody is plugged, and
    # lanes that arrive where no track takes them.
    module Listeners
      module_function

      def findings(show) = [*silent(show), *unplugged(show), *unheard(show), *untaken(show)]

      # Plugged in, and nothing arrives, with or without a scene.
      def silent(show)
        show.rig.listening.select { |id| show.patch.slots.key?(id) && !Signal::Carried.anything?(show, id) }.map do |id|
          Finding.new(rule: "no-signal", severity: "stop", step: "outputs", title: "#{Words::Runs.capital(show.label(id))} gets nothing",
            what: Signal::Sentence.of(show, id, :back), why: "Whoever listens there hears silence.", endpoints: [id, *show.graph.line_back(id).drop(1)])
        end
      end

      def unplugged(show)
        free = show.rig.listening.reject { |id| show.patch.slots.key?(id) }
        by_device = show.rig.by_device(free) { |id| id }
        return [] if by_device.empty? || show.patch.slots.empty?

        by_device.map do |device, ids|
          whole = ids.size == show.rig.heard_at(device).size
          Finding.new(rule: "unplugged-listener", severity: whole ? "note" : "warn", step: "rig",
            title: "#{whole ? device.name : Words::Runs.capital(Words::Runs.list(ids.map { |id| show.label(id) }))} is plugged in nowhere",
            what: "No output leads to #{whole ? device.name : Words::Runs.list(ids.map { |id| show.label(id) })}.", why: "It stays silent until something is laid to it.", endpoints: ids)
        end
      end

      # Outputs of a desk that carry a mix to a socket into which nobody is plugged.
      def unheard(show)
        mixes = show.rig.once(:mixes) { %w[main bus matrix].map { |kind| show.rig.ids_of(kind) }.reduce(:|) }
        slots = show.patch.slots.select { |slot, pick| mixes.include?(pick.from) && !slot.include?("/card-send/") && show.rig.present?(slot) && Signal::Reach.near(show, slot).empty? }
        show.kept(:unheard, [show.rig, show.names, *slots.values, *slots.keys.map { |slot| show.graph.onward(slot) }]) { unheard_by_desk(show, slots) }
      end

      def unheard_by_desk(show, slots)
        left = Endpoint.sorted(slots.keys.reject { |slot| leads_on?(show, slot) })
        show.rig.by_device(left) { |slot| slot }.map { |desk, some| leaving_finding(show, desk, some.map { |slot| [slot, slots[slot].from] }) }
      end

      # One fact of a desk.
      def leaving_finding(show, desk, left)
        one = left.size == 1
        said = left.map { |slot, mix| "#{show.label(mix)} leaves by #{leaving(show, slot)}" }
        Finding.new(rule: "unheard-output", severity: "note", step: "outputs",
          title: one ? "#{Words::Runs.capital(show.label(left.first.last))} leaves where nobody listens" : "#{left.size} outputs#{Words::Runs.desk(show, desk)} lead where nobody listens",
          what: "#{Words::Runs.capital(Words::Runs.names(said))}, and nobody is plugged in there.", why: "A mix that nobody hears is work for nothing, or a plug in the wrong socket.",
          endpoints: left.flatten.uniq)
      end

      # To a recorder, or to a lane of the card.
      def leads_on?(show, slot) = show.graph.onward(slot).any? { |edge| edge.to.include?("/card-send/") || edge.to.include?("/lane-in/") }

      def leaving(show, slot) = show.rig.label(Endpoint.sorted(show.graph.onward(slot).map(&:to).select { |id| id.include?("/out-socket/") }).first || slot)

      # Sources on lanes that arrive at a recorder and that no track takes, where none records them.
      def untaken(show)
        recorded = show.tracks.values.map { |track| show.graph.line_back(track.place).last }.to_set
        lanes = show.rig.all_of("computer").flat_map { |device| show.places(device, "lane-in").map { |lane| [lane, show.graph.line_back(lane).last] } }
          .select { |lane, origin| show.rows.key?(origin) && !recorded.include?(origin) && show.graph.from(lane).none? { |edge| show.track_at(edge.to) } }
        show.rig.by_device(lanes) { |lane, _| lane }.map { |computer, pairs| without_track(show, computer, pairs) }
      end

      def without_track(show, computer, pairs)
        Finding.new(rule: "untaken-lane", severity: "warn", step: "capture",
          title: "#{Words::Runs.capital(Words::Runs.plural("lane", pairs))} #{Words::Runs.of(pairs.map(&:first))} of #{computer.name} #{(pairs.size == 1) ? "is" : "are"} recorded by no track",
          what: "#{Words::Runs.names(pairs.map { |_, row| show.label(row) })} #{(pairs.size == 1) ? "arrives" : "arrive"} there.", why: "What no track takes is lost when the take is over.",
          endpoints: pairs.map(&:first), mend: tracks_of(show, computer, pairs.map(&:first)))
      end

      # A slot takes each lane, the one of its number where that is free; of what arrives tracks are made.
      def tracks_of(show, computer, lanes)
        free = show.places(computer, "track").reject { |slot| show.patch.slots.key?(slot) || show.track_at(slot) }
        taken = lanes.reject { |lane| show.graph.from(lane).any? { |edge| show.graph.track?(edge.to) } }.map do |lane|
          own = Endpoint.id(computer.id, "track", Endpoint.number(lane))
          slot = free.delete(own) || free.shift
          slot && Edits::Connect.new(slot: slot, from: lane)
        end
        edits = [*taken, Edits::MakeTracks.new(computer: computer.id)]
        after = Edits::Group.new(edits: edits).apply(show) unless taken.include?(nil)
        return nil unless after.is_a?(Show) && lanes.all? { |lane| after.graph.from(lane).any? { |edge| after.track_at(edge.to) } } && Soundness.safe?(show, after)

        Mend.new(label: "Mend: make tracks of what arrives", edits: edits)
      end
      private_class_method :unplugged, :unheard, :unheard_by_desk, :leaving_finding, :leads_on?, :leaving, :untaken, :without_track, :tracks_of
    end
  end
end

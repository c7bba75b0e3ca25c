# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Not an edit itself: finds the edit by which what one place has comes to another, in this
    # direction only.
    #
    #   Laying.edit(show, "box-a/mic/9", "desk/channel/1")
    #     # => Connect(slot: "desk/channel/1", from: "desk/aes50-a-in/9")
    module Laying
      module_function

      # @param pair [Boolean] whether the other side of a stereo pair goes with it
      # @return [Plug, Connect, SetSend, Group, nil]
      def edit(show, from, to, pair: true)
        return plug(show, from, to, pair) if show.rows.key?(from)
        return SetSend.new(channel: from, mix: to) if mix?(show, from, to)
        return into_mix(show, from, to) if to.start_with?("songs/mix/")

        slot = slot_behind(show, to) or return nil
        source = Signal::Route.into(show, from, slot)
        return by_the_patch(show, from, slot) unless source

        pair ? connect_with_pair(show, slot, source) : Connect.new(slot: slot, from: source)
      end

      # A place that fixed wires feed is patched where its signal is sent from: an output of a
      # box at the desk's link.
      #
      # @return [String, nil]
      def slot_behind(show, to)
        return to if show.rig.field_of(to)

        Signal::Wiring.of(show.rig, show.sample_rate_hz).back(to).find { |id| show.rig.field_of(id) }
      end

      # A row is plugged into a socket; laid straight to a later post it goes by its socket.
      def plug(show, row, to, pair)
        if Endpoint.parse(to).family == "mic" && show.rig.place(to)
          return pair ? plug_with_pair(show, row, to) : Plug.new(row: row, socket: to)
        end

        socket = show.patch.plugs[row]
        socket && edit(show, socket, to, pair: pair)
      end

      # The sides of a pair are plugged in side by side, where the next socket is there and
      # nobody else's.
      def plug_with_pair(show, row, to)
        alone = Plug.new(row: row, socket: to)
        other = show.rows[row].pair or return alone
        socket = Endpoint.parse(to).then { |endpoint| endpoint.at(endpoint.number + (show.rows[other].number <=> show.rows[row].number)) }
        return alone unless show.rig.present?(socket) && [nil, row, other].include?(show.row_at(socket))

        Group.new(edits: [alone, Plug.new(row: other, socket: socket)])
      end

      # Where every slot chooses for itself, the sides of a stereo pair go on neighbouring slots
      # together, as long as the other side lies beside this one and its slot is free.
      def connect_with_pair(show, slot, source)
        alone = Connect.new(slot: slot, from: source)
        row = show.rows[show.graph.line_back(source).last]
        return alone if row.nil? || row.pair.nil? || show.rig.field_of(slot).blocks?

        side = show.rows[row.pair].number <=> row.number
        other_slot, other_source = [slot, source].map { |id| Endpoint.parse(id).then { |endpoint| endpoint.at(endpoint.number + side) } }
        beside = show.graph.line_back(other_source).last == row.pair && show.rig.present?(other_slot) && show.patch.slots[other_slot].nil?
        beside ? Group.new(edits: [alone, Connect.new(slot: other_slot, from: other_source)]) : alone
      end

      # A role goes into a mix of roles as loud as it is.
      def into_mix(show, role, to)
        mix = show.mixes[Endpoint.number(to).to_s] if role.start_with?("songs/role/")
        mix && SetMix.new(mix: mix.id, members: {role => 0.0}.merge(mix.members).freeze)
      end

      def mix?(show, from, to)
        place = show.rig.place(from)
        !place.nil? && place.device.id == Endpoint.parse(to).device && place.device.profile.assigns.fetch(place.family.name, []).include?(Endpoint.parse(to).family)
      end

      # What no fixed wire brings to the slot's device comes there by what is patched: a row by the
      # lane on which it arrives, a mix by the output by which it leaves, or else by one that is free.
      # Of the ways that can be laid the one that changes least; one that cannot says why.
      def by_the_patch(show, from, slot)
        passing = Signal::Route.passing(show, from, slot)&.then { |source| Connect.new(slot: slot, from: source) }
        ways = [passing, *by_outputs(show, from, slot)].compact
        laid = ways.filter_map { |way| way.apply(show).then { |after| [way, after] unless after.is_a?(Refusal) } }
        laid.min_by { |_, after| Show::Parts.changed(show, after, ["slots"]).fetch("slots", {}).size }&.first || passing
      end

      def by_outputs(show, mix, slot)
        field = show.rig.field_of(slot)
        outputs = field.takes?("output") ? show.places(show.rig.devices[Endpoint.parse(slot).device], "output") : []
        return [] if outputs.empty? || !takes?(show, outputs.first, mix)

        outputs.select { |id| show.rig.present?(id) && free?(show, id, slot) }.map do |output|
          Group.new(edits: [Connect.new(slot: output, from: mix), Connect.new(slot: slot, from: output)])
        end
      end

      def takes?(show, output, mix) = Signal::Route.takable?(show.rig.field_of(output), Endpoint.parse(output), mix)

      # An output that takes nothing, and by which nobody else would hear the mix and no track record it.
      def free?(show, output, slot)
        return false if show.patch.slots[output]

        elsewhere = reached(show, output) - reached(show, slot)
        elsewhere.none? { |id| show.track_at(id) || show.rig.place(id)&.device&.listener? }
      end

      def reached(show, id) = show.graph.onward(id).map(&:to)
      private_class_method :plug, :plug_with_pair, :connect_with_pair, :into_mix, :mix?, :by_the_patch, :by_outputs, :takes?, :free?, :reached
    end
  end
end

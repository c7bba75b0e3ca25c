# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Not an edit itself: finds the edit that joins two places that somebody joined on the
    # loom, whichever end was picked up first, and the one that takes them apart again.
    module Join
      module_function

      # @param one [String] an endpoint id
      # @param other [String] an endpoint id
      # @return [Plug, Connect, SetSend, Group, Refusal]
      def between(show, one, other)
        edit(show, one, other) || edit(show, other, one) ||
          Refusal.new(field: "to", value: other, allowed: "a place that can take #{show.label(one)}",
            why: "Nothing can be laid between #{show.label(one)} and #{show.label(other)}.")
      end

      # The same for a run: one to one onward from both ends; rows go on by the list, and
      # channels that are sent to a mix go all to that mix.
      #
      # @param count [Integer]
      # @return [Edit, Refusal]
      def run(show, one, other, count)
        found = between(show, one, other)
        return found if count == 1 || found.is_a?(Refusal)

        first = found.is_a?(Group) ? found.edits.first : found
        case first
        when Plug then Group.new(edits: plugs_onward(show, first, count))
        when SetSend then Group.new(edits: (0...count).map { |step| first.with(channel: Endpoint.parse(first.channel).onward(step)) })
        else Run.new(slot: first.slot, from: first.from, count: count)
        end
      end

      def plugs_onward(show, first, count)
        show.rows.keys.drop_while { |row| row != first.row }.first(count).each_with_index.map do |row, step|
          Plug.new(row: row, socket: Endpoint.parse(first.socket).onward(step))
        end
      end

      # The edit that takes off what is laid between two places.
      #
      # @return [Plug, Clear, SetSend, Refusal]
      def apart(show, one, other)
        parting(show, one, other) || parting(show, other, one) ||
          Refusal.new(field: "to",
            value: other,
            allowed: "a place that #{show.label(one)} is laid to",
            why: "Nothing is laid between #{show.label(one)} and #{show.label(other)}.")
      end

      # The edit that frees a place of what comes to it.
      #
      # @return [Plug, Clear, Group, Refusal]
      def free(show, place)
        return Plug.new(row: place, socket: nil) if show.patch.plugs.key?(place)

        slot = slot_behind(show, place)
        return Clear.new(slot: slot) if slot && show.patch.slots.key?(slot)

        plugged = show.patch.plugs.select { |_, socket| socket == place }.keys
        plugged.empty? ? nothing_on(show, place) : Group.new(edits: plugged.map { |row| Plug.new(row: row, socket: nil) })
      end

      def nothing_on(show, place)
        sources = show.graph.to(place).count { |edge| edge.kind == :send }
        why = sources.zero? ? "Nothing is laid on #{show.label(place)}." : "#{show.label(place)} mixes #{sources} sources: hold the one that is to leave, then lay it here once more."
        Refusal.new(field: "from", value: place, allowed: "a place that takes something", why: why)
      end

      def parting(show, from, to)
        return Plug.new(row: from, socket: nil) if show.rows.key?(from) && show.patch.plugs[from] == to
        return SetSend.new(channel: from, mix: to, on: false) if show.patch.send_of(from, to)

        slot = slot_behind(show, to)
        Clear.new(slot: slot) if slot && show.patch.slots.key?(slot) && show.graph.line_back(to).drop(1).include?(from)
      end

      def edit(show, from, to)
        return plug(show, from, to) if show.rows.key?(from)
        return SetSend.new(channel: from, mix: to) if mix?(show, from, to)

        slot = slot_behind(show, to)
        source = slot && Signal::Route.into(show, from, slot)
        source && connect_with_pair(show, slot, source)
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

      # A place that fixed wires feed is patched where its signal is sent from: an output of a
      # box at the desk's link.
      def slot_behind(show, to)
        return to if show.rig.field_of(to)

        Signal::Wiring.of(show.rig, show.sample_rate_hz).back(to).find { |id| show.rig.field_of(id) }
      end

      # A row is plugged into a socket; laid straight to a later post it goes by its socket.
      def plug(show, row, to)
        return plug_with_pair(show, row, to) if Endpoint.parse(to).family == "mic" && show.rig.place(to)

        socket = show.patch.plugs[row]
        socket && edit(show, socket, to)
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

      def mix?(show, from, to)
        place = show.rig.place(from)
        !place.nil? && place.device.id == Endpoint.parse(to).device && place.device.profile.assigns.fetch(place.family.name, []).include?(Endpoint.parse(to).family)
      end
      private_class_method :plugs_onward, :nothing_on, :parting, :edit, :slot_behind, :connect_with_pair, :plug, :plug_with_pair, :mix?
    end
  end
end

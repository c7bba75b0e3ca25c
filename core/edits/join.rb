# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Not an edit itself: finds the edit that joins two places that somebody joined on the
    # loom, whichever end was picked up first.
    module Join
      module_function

      # @param one [String] an endpoint id
      # @param other [String] an endpoint id
      # @return [Plug, Connect, SetSend, Refusal]
      def between(show, one, other)
        edit(show, one, other) || edit(show, other, one) ||
          Refusal.new(field: "to", value: other, allowed: "a place that can take #{show.label(one)}",
            why: "Nothing can be laid between #{show.label(one)} and #{show.label(other)}.")
      end

      def edit(show, from, to)
        return plug(show, from, to) if show.rows.key?(from)
        return SetSend.new(channel: from, mix: to) if mix?(show, from, to)

        source = Patch::Route.into(show, from, to)
        source && Connect.new(slot: to, from: source)
      end

      # A row is plugged into a socket; laid straight to a later post it goes by its socket.
      def plug(show, row, to)
        return Plug.new(row: row, socket: to) if show.rig.family_of(to)&.kind == "socket" && Endpoint.parse(to).family == "mic"

        socket = show.patch.plugs[row]
        socket && edit(show, socket, to)
      end

      def mix?(show, from, to)
        show.rig.family_of(from)&.kind == "channel" && show.rig.device_of(from).profile.mixes.include?(Endpoint.parse(to).family)
      end
      private_class_method :edit, :plug, :mix?
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Runs every row that is plugged in straight through: to the channel of its number, to the card lane of its
    # number, as clean as the desk offers it, and to a track of the recording computer.
    RunThrough = Edit.of("run_through", desk: :id, computer: :id) do
      def apply(show)
        return refuse("desk", desk, show.rig.all_of("desk")) unless show.rig.devices[desk]&.profile&.kind == "desk"
        return refuse("computer", computer, show.rig.all_of("computer")) unless show.rig.devices[computer]&.profile&.kind == "computer"

        rows = show.rows.values.select { |row| show.patch.plugs[row.id] }.sort_by(&:number)
        return Refusal.new(field: "rows", value: 0, allowed: "rows that are plugged in", why: "No row of the input list is plugged in yet.") if rows.empty?

        laid = rows.reduce(show) do |now, row|
          after = through(now, row)
          return after if after.is_a?(Refusal)

          after
        end
        made = MakeTracks.new(computer: computer).apply(laid)
        # Tracks that are there already are no reason to leave the patch as it was.
        (made.is_a?(Refusal) && laid != show) ? laid : made
      end

      private

      def refuse(field, value, devices)
        Refusal.new(field: field, value: value, allowed: devices.map(&:id).join(", "), why: "There is no #{field} #{value} in this rig.")
      end

      def through(show, row)
        socket = show.patch.plugs[row.id]
        channel, lane = Endpoint.id(desk, "channel", row.number), Endpoint.id(desk, "card-send", row.number)
        step(show, channel, Signal::Route.into(show, socket, channel), row)
          .then { |now| now.is_a?(Refusal) ? now : card(now, lane, socket, channel, row) }
          .then { |now| now.is_a?(Refusal) ? now : step(now, Endpoint.id(computer, "track", row.number), Endpoint.id(computer, "lane-in", row.number), row) }
      end

      # The socket itself where the card takes sockets, else the channel before anything that is moved in a show.
      def card(show, lane, socket, channel, row)
        from = Signal::Route.into(show, socket, lane)
        return step(show, lane, from, row) if from && from != channel

        Connect.new(slot: lane, from: channel, tap: show.rig.family_of(channel)&.taps&.first).apply(show)
      end

      def step(show, slot, from, row)
        unless from && show.rig.named?(slot)
          return Refusal.new(field: "row", value: row.number, allowed: "a way to #{slot}", why: "Row #{row.number} (#{row.name}) has no way to #{show.rig.named?(slot) ? show.rig.label(slot) : slot}; patch it by hand.")
        end
        return show if show.patch.slots[slot]&.from == from

        Connect.new(slot: slot, from: from).apply(show)
      end
    end
  end
end

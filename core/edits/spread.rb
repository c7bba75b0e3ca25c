# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Spreads rows over boxes so that each box gets about as many: in the list's order, the
    # sides of a pair together, on the first sockets that nobody else is plugged in at.
    Spread = Edit.of("spread", rows: :ids, boxes: :ids) do
      def apply(show)
        refuse_places(show) || plugged(show)
      end

      private

      def refuse_places(show)
        row = rows.find { |id| !show.rows.key?(id) }
        return Refusal.new(field: "rows", value: row, allowed: "rows of the input list", why: "The input list has no #{row}.") if row

        box = boxes.find { |id| show.places(show.rig.devices[id], "mic").empty? }
        if box
          return Refusal.new(field: "boxes",
            value: box,
            allowed: "devices with microphone sockets",
            why: "#{show.rig.devices[box]&.name || box} has no microphone sockets.")
        end
        if boxes.empty?
          Refusal.new(field: "boxes", value: boxes.join(", "), allowed: "at least one box", why: "Rows need a box to be spread over.")
        end
      end

      def plugged(show)
        free = boxes.to_h { |id| [id, free_sockets(show, id)] }
        room = free.values.sum(&:size)
        if room < rows.size
          return Refusal.new(field: "boxes",
            value: boxes.join(", "),
            allowed: "#{rows.size} free sockets",
            why: "#{rows.size} rows want sockets, and these boxes have #{room} free.")
        end

        plugs = dealt(show, free)
        if plugs.size < rows.size
          return Refusal.new(field: "boxes",
            value: boxes.join(", "),
            allowed: "room for both sides of each pair on one box",
            why: "These boxes have #{room} sockets free, but not so that every pair stays together.")
        end

        show.with(patch: plugs.reduce(show.patch) { |patch, (row, socket)| patch.with_plug(row, socket) })
      end

      def free_sockets(show, box)
        taken = show.patch.plugs.except(*rows).values
        show.places(show.rig.devices[box], "mic").select { |id| show.rig.present?(id) } - taken
      end

      # Each box in turn gets its share of what is left; a pair is never torn apart.
      def dealt(show, free)
        units = units(show)
        free.each_with_index.flat_map do |(_, sockets), at|
          left = units.sum(&:size)
          # No less than what the boxes behind cannot hold.
          share = [(left / (free.size - at).to_f).ceil, left - free.values.drop(at + 1).sum(&:size)].max
          given = []
          room = (at == free.size - 1) ? sockets.size : [share, sockets.size].min
          given << units.shift while units.any? && given.sum(&:size) + units.first.size <= room
          given.flatten.zip(sockets)
        end
      end

      def units(show)
        ordered = show.rows.keys & rows
        ordered.slice_when { |a, b| show.rows[a].pair != b }.to_a
      end
    end
  end
end

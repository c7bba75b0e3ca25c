# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Says where a row of the input list is plugged; a nil socket unplugs it.
    Plug = Edit.of("plug", row: :id, socket: [:id, nil]) do
      def apply(show)
        refuse_row(show) || refuse_socket(show) || show.with(patch: show.patch.with_plug(row, socket))
      end

      private

      def refuse_row(show)
        return nil if show.rows.key?(row)

        Refusal.new(field: "row", value: row, allowed: "a row of the input list", why: "The input list has no #{row}.")
      end

      def refuse_socket(show)
        return nil if socket.nil? || (show.rig.present?(socket) && Endpoint.parse(socket).family == "mic")

        Refusal.new(field: "socket", value: socket, allowed: "a microphone socket that this rig has",
          why: "#{show.label(row)} cannot be plugged in at #{show.label(socket)}; it wants a microphone socket of a desk or a box.")
      end
    end
  end
end

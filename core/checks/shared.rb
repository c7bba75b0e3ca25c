# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Two rows in one socket, or one socket on two channels without being marked as a
    # wanted split.
    module Shared
      module_function

      def findings(show) = rows(show) + channels(show)

      def rows(show)
        crowded = show.patch.plugs.group_by(&:last).select { |_, plugs| plugs.size > 1 }
        crowded.map { |socket, plugs| row_finding(show, socket, plugs.map(&:first)) }
      end

      def row_finding(show, socket, rows)
        names = rows.map { |row| show.label(row) }
        Finding.new(rule: "shared", severity: "stop", step: "patch", title: "#{names.join(" and ")} share a socket",
          what: "#{names.join(" and ")} are both plugged in at #{show.label(socket)}.",
          why: "Only one of them can be in that socket: the other is heard by nobody.", endpoints: [socket, *rows],
          mend: free_socket(show, socket)&.then { |free| Mend.new(label: "Mend: #{names.last} to #{show.label(free)}", edits: [Edits::Plug.new(row: rows.last, socket: free)]) })
      end

      # The next socket of the same device that no row uses.
      def free_socket(show, socket)
        endpoint = Endpoint.parse(socket)
        taken = show.patch.plugs.values
        (1..show.rig.family_of(socket).there).map { |number| endpoint.at(number) }.find { |id| !taken.include?(id) }
      end

      def channels(show)
        by_source = show.patch.slots.select { |slot, _| Endpoint.parse(slot).family == "channel" }.group_by { |_, take| show.graph.line_back(take.from).find { |id| socket?(show, id) } }
        by_source.select { |socket, slots| socket && slots.size > 1 && live_twice?(show, socket) }
          .map { |socket, slots| channel_finding(show, socket, slots.map(&:first)) }
      end

      def socket?(show, id) = show.rig.family_of(id)&.kind == "socket"

      # Blocks that overlap in unused sockets are no mistake.
      def live_twice?(show, socket) = show.row_at(socket) && !show.patch.splits.include?(socket)

      def channel_finding(show, socket, channels)
        row = show.label(show.row_at(socket))
        Finding.new(rule: "shared", severity: "warn", step: "patch", title: "#{row} is on channels #{Runs.of(channels)}",
          what: "#{show.label(socket)} (#{row}) feeds channels #{Runs.of(channels)}.",
          why: "Two channels of one source add up in the mix; fine on purpose, a puzzle by mistake.", endpoints: [socket, *channels],
          mend: Mend.new(label: "It is a wanted split", edits: [Edits::Split.new(socket: socket)]))
      end
      private_class_method :rows, :row_finding, :free_socket, :channels, :socket?, :live_twice?, :channel_finding
    end
  end
end

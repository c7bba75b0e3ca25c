# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Two rows in one socket, or one socket on two channels without being marked as a
    # wanted split.
    module Shared
      module_function

      # What is plugged in changes seldom.
      def findings(show)
        plugged = show.kept(:shared, [show.rig, show.rows, show.names, show.patch.plugs, show.sample_rate_hz]) { (rows(show) + cabled(show)).freeze }
        plugged + channels(show)
      end

      def rows(show)
        crowded = show.patch.plugs.group_by(&:last).select { |_, plugs| plugs.size > 1 }
        crowded.sort.map { |socket, plugs| row_finding(show, socket, plugs.map(&:first).sort_by { |row| show.rows[row].number }) }
      end

      # A row in a socket in which a cable of lines ends, too.
      def cabled(show)
        show.patch.plugs.select { |_, socket| show.graph.doubled?(socket) }.sort_by { |row, _| show.rows[row].number }.map do |row, socket|
          far = show.graph.to(socket).map(&:from).find { |id| id != row }
          Finding.new(rule: "shared", severity: "stop", step: "patch", variant: "cable", title: "#{show.label(row)} and a cable share a socket",
            what: "#{show.label(row)} is plugged in at #{show.rig.label(socket)}, where the cable from #{show.rig.label(far)} ends.",
            why: "Only one of them can be in that socket: the other is heard by nobody.", endpoints: [socket, row, far],
            mend: to_free_socket(show, socket, row))
        end
      end

      def row_finding(show, socket, rows)
        names = rows.map { |row| show.label(row) }
        Finding.new(rule: "shared", severity: "stop", step: "patch", title: "#{names.join(" and ")} share a socket",
          what: "#{names.join(" and ")} are #{(names.size == 2) ? "both" : "all"} plugged in at #{show.label(socket)}.",
          why: "Only one of them can be in that socket: the other is heard by nobody.", endpoints: [socket, *rows],
          mend: to_free_socket(show, socket, rows.last))
      end

      def to_free_socket(show, socket, row)
        free = free_socket(show, socket)
        free && Soundness.mend(show, "Mend: #{show.label(row)} to #{show.label(free)}", [Edits::Plug.new(row: row, socket: free)])
      end

      # The next socket of the same device that no row uses.
      def free_socket(show, socket)
        endpoint = Endpoint.parse(socket)
        taken = show.patch.plugs.values
        (1..show.rig.family_of(socket).there).map { |number| endpoint.at(number) }.find { |id| !taken.include?(id) && show.graph.to(id).empty? }
      end

      # Channels that repeat others as a whole (a block laid twice) are one finding.
      def channels(show)
        several = Signal::Sources.channels(show).group_by(&:last).select { |_, pairs| pairs.size > 1 }
        by_row = several.flat_map { |row, pairs| show.rig.by_device(pairs.map(&:first)) { |channel| channel }.map { |_, some| [row, some.sort_by { |id| Endpoint.number(id) }] } }
          .select { |_, channels| channels.size > 1 }
        doubled = by_row.select { |row, _| wanted_once?(show, show.patch.plugs[row]) }.sort_by { |row, _| show.rows[row].number }
        doubled.group_by { |_, channels| shape(channels) }.values.map do |alike|
          alike.one? ? channel_finding(show, *alike.first) : repeated(show, alike.to_h)
        end
      end

      def wanted_once?(show, socket) = !socket.nil? && !show.patch.splits.include?(socket)

      # Where the other channels lie, seen from the first.
      def shape(channels)
        places = channels.map { |id| Endpoint.parse(id) }
        places.map { |place| [place.device, place.number - places.first.number] }
      end

      def channel_finding(show, row, channels)
        socket = show.patch.plugs[row]
        Finding.new(rule: "shared", severity: "warn", step: "patch", title: "#{show.label(row)} is on #{Words::Runs.channels(show, channels)}",
          what: "#{show.label(socket)} (#{show.label(row)}) feeds #{Words::Runs.channels(show, channels)}.", why: WHY, endpoints: [socket, *channels],
          mend: Mend.new(label: "It is a wanted split", edits: [Edits::Split.new(socket: socket)]))
      end

      def repeated(show, channels_by_row)
        first, *others = channels_by_row.values.transpose
        sockets = channels_by_row.keys.map { |row| show.patch.plugs[row] }
        Finding.new(rule: "shared",
          severity: "warn",
          step: "patch",
          title: "#{sockets.size} sources are on #{others.size + 1} channels each",
          what: "#{Words::Runs.capital([first, *others].map { |run| Words::Runs.channels(show, run) }.join(" and "))} take the same sockets: #{Words::Runs.names(channels_by_row.keys.map { |row| show.label(row) })}.",
          why: WHY,
          endpoints: [*first, *others.flatten, *sockets],
          mend: Mend.new(label: "They are wanted splits", edits: sockets.map { |socket| Edits::Split.new(socket: socket) }))
      end

      WHY = "Two channels of one source add up in the mix; fine on purpose, a puzzle by mistake."
      private_constant :WHY
      private_class_method :rows, :cabled, :row_finding, :to_free_socket, :free_socket, :channels, :wanted_once?, :shape, :channel_finding, :repeated
    end
  end
end

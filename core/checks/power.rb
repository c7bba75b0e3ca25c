# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Phantom power is asked for and off, or on where the list forbids it.
    module Power
      module_function

      def findings(show)
        plugged = show.rows.values.select { |row| show.patch.plugs.key?(row.id) }
        missing = plugged.select { |row| row.phantom == "yes" && !show.patch.powered.include?(show.patch.plugs[row.id]) }
        [*plugged.select { |row| row.phantom == "never" && show.patch.powered.include?(show.patch.plugs[row.id]) }
          .map { |row| harmful(show, row) }, *(missing.empty? ? [] : [off(show, missing)])]
      end

      def harmful(show, row)
        socket = show.patch.plugs[row.id]
        Finding.new(rule: "power",
          severity: "stop",
          step: "patch",
          title: "Phantom power on #{row.name}",
          what: "#{show.label(socket)} has phantom power, and #{row.name}#{" (#{row.mic})" unless row.mic.empty?} must never get it.",
          why: "It can be damaged.",
          endpoints: [socket, row.id],
          mend: Mend.new(label: "Mend: switch it off", edits: [Edits::Power.new(sockets: [socket], on: false)]))
      end

      def off(show, rows)
        sockets = rows.map { |row| show.patch.plugs[row.id] }
        names = rows.map(&:name).join(", ")
        Finding.new(rule: "power",
          severity: "warn",
          step: "patch",
          title: "#{rows.size} #{Words::Runs.plural("microphone", rows)} without phantom power",
          what: "#{names} #{(rows.size == 1) ? "wants" : "want"} phantom power, and it is off at #{sockets.map { |id| show.label(id) }.join(", ")}.",
          why: "They give no signal without it.",
          endpoints: sockets + rows.map(&:id),
          mend: Mend.new(label: "Mend: switch it on", edits: [Edits::Power.new(sockets: sockets, on: true)]))
      end
      private_class_method :harmful, :off
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Rows of the input list that reach no channel: one finding for all that are plugged in
    # nowhere, one for those whose socket no channel takes.
    module Unpatched
      module_function

      def findings(show)
        heard = Signal::Sources.channels(show).values.to_set
        loose, plugged = show.rows.values.reject { |row| heard.include?(row.id) }.partition { |row| show.patch.plugs[row.id].nil? }
        [(unplugged(loose) if loose.any?), (untaken(show, plugged) if plugged.any?)].compact
      end

      def unplugged(rows) = finding(rows, "#{names(rows)} #{(rows.size == 1) ? "is" : "are"} not plugged in anywhere.", rows.map(&:id))

      def untaken(show, rows)
        sockets = rows.map { |row| show.patch.plugs[row.id] }
        finding(rows,
          "#{names(rows)} #{(rows.size == 1) ? "is" : "are"} plugged in at #{Words::Runs.places(show, sockets.uniq)}, and no channel takes #{(rows.size == 1) ? "it" : "them"}.",
          rows.map(&:id) + sockets.uniq,
          mend(show, rows))
      end

      def finding(rows, what, endpoints, mend = nil)
        Finding.new(rule: "unpatched",
          severity: "warn",
          step: "patch",
          title: (rows.size == 1) ? "#{rows.first.name} reaches no channel" : "#{rows.size} rows reach no channel",
          what: what,
          why: "Nobody will hear #{(rows.size == 1) ? "it" : "them"}.",
          endpoints: endpoints,
          mend: mend)
      end

      def names(rows, most = 6) = rows.first(most).map(&:name).join(", ") + ((rows.size > most) ? " and #{rows.size - most} more" : "")

      # The channels of the rows' own numbers, where they are free and can take the sockets.
      def mend(show, rows)
        edits = rows.filter_map { |row| own_channel(show, row)&.then { |edit| edit if heard?(edit.apply(show), row, edit.slot) } }.uniq { |edit| Patch::Block.first_or_self(show, edit.slot) }
        return nil if edits.empty?

        Soundness.mend(show, "Mend: put #{(rows.size == 1) ? "it" : "them"} on channel #{Words::Runs.of(edits.map(&:slot))}", edits)
      end

      # A channel that is switched over does not listen to what is laid on it.
      def heard?(after, row, channel) = after.is_a?(Show) && Signal::Sources.row_behind(after, channel) == row.id

      def own_channel(show, row)
        desk = show.rig.first_of("desk") or return nil
        channel = Endpoint.id(desk.id, "channel", row.number)
        source = show.rig.place(channel) && show.patch.slots[channel].nil? && Signal::Route.into(show, show.patch.plugs[row.id], channel)
        source ? Edits::Connect.new(slot: channel, from: source) : nil
      end
      private_class_method :unplugged, :untaken, :finding, :names, :mend, :heard?, :own_channel
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # A guided check as it stands: whose turn it is, in which order, and what was found of each source. Every
    # page that looks at it sees the same.
    #
    #   State.new.begun(show, "Ilse").heard(show, arrival, at: "2026-11-26T18:02:11Z")
    #
    # listening  whether arrivals count
    # measuring  whether levels are gathered, for the gains, though nothing is judged: the band plays
    # order      "list", or "boxes": as the sockets stand on the boxes
    # row        whose turn it is; nil before the first and after the last
    # who        whoever began it: by whom the ear's verdicts are
    # free       any source may come next: somebody walks the stage with one microphone
    # verdicts   Verdict a row; those of rows that are gone are left out when it is read
    # aim_dbfs   where normal playing should sit; full_scale_dbu what full scale is in dBu at the desk
    # hums       that began while it was listened: by lane {hz:, level_dbfs:, at:}, until somebody has seen it
    # waits      something is wrong with the source whose turn it is, and nobody has said yet how it goes on
    # since      {lane:, at:} of what came in while it waits and may be that source or another one; nobody is judged by it
    # judged_ids  of the last arrivals: none is judged twice, whoever brings it again
    State = Value.of(listening: false, measuring: false, order: "list", row: nil, who: "", free: false, verdicts: {}.freeze, aim_dbfs: Gain::AIM_DBFS, full_scale_dbu: 24, hums: {}.freeze, waits: false, since: nil, judged_ids: [].freeze)

    class State
      # More than an ear keeps.
      IDS_KEPT = 32
      private_constant :IDS_KEPT

      def self.from_data(data)
        new(**data.slice("listening", "measuring", "order", "row", "who", "free", "aim_dbfs", "full_scale_dbu", "waits").transform_keys(&:to_sym), judged_ids: data.fetch("judged_ids", []).freeze,
          since: data["since"]&.transform_keys(&:to_sym), hums: data.fetch("hums", {}).to_h { |lane, hum| [lane.to_i, hum.transform_keys(&:to_sym)] }.freeze,
          verdicts: data.fetch("verdicts", {}).transform_values { |verdict| Verdict.from_data(verdict) }.freeze)
      end

      def to_data = {**to_h, verdicts: verdicts.transform_values(&:to_data)}

      # Begins, or goes on with the rest.
      def begun(show, who = "") = turned(turn(show) || next_open(show, nil)).with(listening: true, measuring: false, who: who)
      def stopped = with(listening: false, measuring: false)
      def wanted? = listening || measuring

      # @return [Array<String>] rows in the order in which they come
      def rows(show)
        return show.rows.keys if order == "list"

        show.rows.keys.sort_by.with_index { |row, at| box_order(show, row, at) }
      end

      # @return [Verdict, nil] nil while it is open, or where its way is another since
      def verdict(show, row)
        verdict = verdicts[row]
        verdict if verdict && show.rows.key?(row) && verdict.way == Way.of(show, row).digest
      end

      # @return [String] "open", "fine", "wrong", "skipped", or "again" where its way is another since
      def standing(show, row)
        verdict = verdict(show, row)
        return overtaken?(show, row) ? "again" : "open" unless verdict
        return "skipped" if verdict.skipped?

        verdict.fine? ? "fine" : "wrong"
      end

      # What findings read of it.
      #
      # @return [Hash, nil] see Checks::Facts; nil where nothing was ever checked
      def facts(show)
        return nil if verdicts.empty?

        rows(show).to_h { |row| [row, {state: standing(show, row), **found(show, row)}] }
      end

      # Whether it was found out, and its way is another since.
      def overtaken?(show, row) = verdicts.key?(row) && verdict(show, row).nil?

      # @return [String, nil] whose turn it is, if that row is still in the list
      def turn(show) = (row if row && show.rows.key?(row))

      # @param arrival [Ear::Arrival]
      # @return [State] the same where nothing is to be judged
      def heard(show, arrival, at:)
        return self if !listening || judged_ids.include?(arrival.id)

        now = with(judged_ids: [*judged_ids, arrival.id].last(IDS_KEPT).freeze)
        return now.humming(arrival, at) if arrival.humming

        row = asked(show, arrival) or return now.unsure(arrival, at)
        now.judged(show, row, who: who, at: at, **Judge.of(show, row, arrival))
      end

      # It is this one's turn; what comes in next is its own.
      def turned(row) = with(row: row, waits: false, since: nil)

      # @return [State] with what was found; where that is fine it is the next one's turn
      def judged(show, row, who:, at:, place:, **found)
        verdict = Verdict.new(place: place, way: Way.of(show, row).digest, who: who, at: at, **found)
        after = turned(row).with(verdicts: verdicts.merge(row => verdict).freeze)
        (verdict.fine? || verdict.skipped?) ? after.turned(after.next_open(show, row)) : after.with(waits: true)
      end

      # Goes on without it. What was found wrong with it stands.
      def left(show, row, who:, at:)
        found = verdict(show, row)
        (found && !found.fine?) ? turned(next_open(show, row)) : judged(show, row, who: who, at: at, place: "skipped")
      end

      def unsure(arrival, at) = waits ? with(since: {lane: arrival.lane, at: at}.freeze) : self

      # Nobody tapped, but what is tapped there from now on hums.
      def humming(arrival, at)
        with(hums: hums.merge(arrival.lane => {hz: arrival.hum.hz, level_dbfs: arrival.hum.level_dbfs.round(1), at: at}).freeze)
      end

      # Opens sources again: their plugs were moved, or somebody wants to hear them once more.
      def reopened(rows) = turned(rows.first).with(verdicts: verdicts.except(*rows).freeze)

      # @return [String, nil] the first behind it that is open; from the top again, those that were skipped last
      def next_open(show, after)
        behind = behind(show, after)
        behind.find { |one| verdict(show, one).nil? } || behind.find { |one| !verdict(show, one).fine? && !verdict(show, one).skipped? } ||
          (behind.find { |one| verdict(show, one).skipped? } if after.nil?)
      end

      private

      # @return [Array<String>] all others in the order in which they come, from the next one on
      def behind(show, row) = rows(show).then { |all| row ? all.rotate((all.index(row) || -1) + 1) - [row] : all }

      def found(show, row)
        verdict = verdict(show, row) or return {said: [], about: nil}
        {said: Said.of(show, row, verdict), about: [verdict.place, verdict.lane, verdict.faults.map { |fault| fault[:kind] }]}
      end

      # Whom an arrival is about: whose turn it is, or, where anybody may come, whose lane it came in on.
      #
      # @return [String, nil] nil where that cannot be told
      def asked(show, arrival)
        return Way.row_of(show, arrival.lane) if free

        row = turn(show) or return nil
        found = waits ? verdict(show, row) : nil
        found ? asked_after(show, row, found, Judge.of(show, row, arrival)) : row
      end

      # Something was wrong with a source, and now something comes in. Where it came in before it is the same source. One that
      # was heard in its own place is there, so elsewhere it is the next one. Else it may be either: the plugs were put right, or
      # whoever walks the stage went on, and the second of two that are swapped comes in just where the first one should.
      def asked_after(show, row, found, heard)
        return row if heard[:place] == found.place && (found.place == "right" || heard[:lane] == found.lane)

        behind(show, row).find { |one| verdict(show, one).nil? } if found.place == "right"
      end

      def box_order(show, row, at)
        socket = show.patch.plugs[row] or return [1, 0, 0, at]
        place = Endpoint.parse(socket)
        [0, show.rig.devices.keys.index(place.device) || 0, place.number, at]
      end
    end
  end
end

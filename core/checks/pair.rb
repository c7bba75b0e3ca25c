# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A stereo pair whose sides do not lie side by side, in order, or whose sides differ in
    # feed or tap.
    module Pair
      module_function

      def findings(show)
        channels = Signal::Sources.channels(show).to_a.reverse.to_h(&:reverse)
        show.rows.values.select { |row| row.pair && show.rows.key?(row.pair) && row.number < show.rows[row.pair].number }
          .filter_map do |left|
          faults = faults(show, left, show.rows[left.pair], channels)
          finding(show, left, show.rows[left.pair], faults) if faults.any?
        end
      end

      def faults(show, left, right, channels)
        sides = [channels[left.id], channels[right.id]]
        return [] unless sides.all?

        [*order(show, sides), *feeds(show, sides), *taps(show, left, right)]
      end

      def order(show, sides)
        one, other = sides.map { |id| Endpoint.parse(id).number }
        return ["they are on channels #{one} and #{other}, not side by side in that order"] if other != one + 1
        return [] unless one.even? && show.rig.device_of(sides.first).profile.pairs == "odd"

        ["they are on channels #{one} and #{other}, and this desk links an odd channel with the next even one"]
      end

      def feeds(show, sides)
        feeds = sides.map { |id| Signal::Feed.of(show, id) }.uniq
        (feeds.size > 1) ? ["one side listens to the #{feeds.first}, the other to the #{feeds.last}"] : []
      end

      def taps(show, left, right)
        taps = [left, right].map { |row| lane_tap(show, row) }.uniq
        (taps.size > 1) ? ["one side is recorded #{taps.first || "nowhere"}, the other #{taps.last || "nowhere"}"] : []
      end

      # The tap at which a row's track is recorded.
      def lane_tap(show, row)
        track = show.track_of_row(row.id) or return nil
        show.graph.line_back(track.place).filter_map { |id| show.graph.to(id).first&.tap }.find { |tap| tap != "raw" } || "raw"
      end

      def finding(show, left, right, faults)
        Finding.new(rule: "pair",
          severity: "warn",
          step: "patch",
          title: "#{left.name} and #{right.name} do not lie as a pair",
          what: "#{left.name} and #{right.name} are a stereo pair, but #{faults.join("; ")}.",
          why: "The desk cannot link them: faders, equaliser and width would go apart.",
          endpoints: [left.id, right.id],
          mend: mend(show, left, right))
      end

      # The wrong way round is the one fault that moves nobody else.
      def mend(show, left, right)
        turned = Edits::Swap.new(one: left.id, other: right.id)
        after = turned.apply(show)
        if after.is_a?(Show) && faults(after,
          after.rows[left.id],
          after.rows[right.id],
          Signal::Sources.channels(after).to_a.reverse.to_h(&:reverse)).empty?
          Mend.new(label: "Mend: plug them in the other way round", edits: [turned])
        end
      end
      private_class_method :faults, :order, :feeds, :taps, :lane_tap, :finding, :mend
    end
  end
end

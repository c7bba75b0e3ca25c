# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A stereo pair whose sides do not lie side by side, in order, or whose sides differ in
    # feed or tap: on each desk.
    module Pair
      module_function

      def findings(show)
        pairs = pairs(show)
        return [] if pairs.empty?

        channels = channels(show)
        pairs.flat_map do |left, right|
          show.rig.all_of("desk").filter_map do |desk|
            faults = faults(show, desk, left, right, channels)
            finding(show, desk, left, right, faults) if faults.any?
          end
        end
      end

      # Rows that are a pair, whichever of them says so, the first of the list on the left.
      def pairs(show)
        paired = show.rows.values.filter_map { |row| [row, show.rows[row.pair]] if row.pair && show.rows.key?(row.pair) && row.pair != row.id }
        paired.map { |sides| sides.sort_by(&:number) }.uniq.sort_by { |left, _| left.number }
      end

      # @return [Hash] [row id, desk id] => channels, by number
      def channels(show)
        Signal::Sources.channels(show).group_by { |channel, row| [row, show.rig.device_of(channel).id] }
          .transform_values { |all| all.map(&:first).sort_by { |id| Endpoint.number(id) } }
      end

      def faults(show, desk, left, right, channels)
        sides = [left, right].map { |row| channels[[row.id, desk.id]] }
        return [] unless sides.all?

        beside = sides.first.filter_map { |one| [one, neighbour(one)] if sides.last.include?(neighbour(one)) }
        return order(sides.map(&:first)) if beside.empty?

        [*start(desk, beside), *feeds(show, beside.first), *taps(show, left, right)]
      end

      def neighbour(id) = Endpoint.parse(id).then { |place| place.at(place.number + 1) }

      def order(sides)
        one, other = sides.map { |id| Endpoint.number(id) }
        ["they are on channels #{one} and #{other}, not side by side in that order"]
      end

      def start(desk, beside)
        return [] unless desk.profile.pairs == "odd" && beside.all? { |one, _| Endpoint.number(one).even? }

        one, other = beside.first.map { |id| Endpoint.number(id) }
        ["they are on channels #{one} and #{other}, and this desk links an odd channel with the next even one"]
      end

      def feeds(show, sides)
        feeds = sides.map { |id| Signal::Feed.of(show, id) }.uniq
        (feeds.size > 1) ? ["one side listens to the #{feeds.first}, the other to the #{feeds.last}"] : []
      end

      def taps(show, left, right)
        taps = [left, right].map { |row| lane_tap(show, row) }
        (taps.uniq.size > 1) ? ["one side is recorded #{taps.first || "nowhere"}, the other #{taps.last || "nowhere"}"] : []
      end

      # The tap at which a row's track is recorded.
      def lane_tap(show, row)
        track = show.track_of_row(row.id) or return nil
        show.graph.line_back(track.place).filter_map { |id| show.graph.to(id).first&.tap }.find { |tap| tap != "raw" } || "raw"
      end

      def finding(show, desk, left, right, faults)
        Finding.new(rule: "pair",
          severity: "warn",
          step: "patch",
          variant: desk.id,
          title: "#{left.name} and #{right.name} do not lie as a pair",
          what: "#{left.name} and #{right.name} are a stereo pair, but#{" on #{desk.name}" if show.rig.all_of("desk").size > 1} #{faults.join("; ")}.",
          why: "The desk cannot link them: faders, equaliser and width would go apart.",
          endpoints: [left.id, right.id],
          about: faults,
          mend: mend(show, desk, left, right))
      end

      # The wrong way round is the one fault that moves nobody else; both must still be heard after.
      def mend(show, desk, left, right)
        turned = Edits::Swap.new(one: left.id, other: right.id)
        after = turned.apply(show)
        return nil unless after.is_a?(Show)

        channels = channels(after)
        heard = [left, right].all? { |row| channels.key?([row.id, desk.id]) }
        recorded = (unrecorded(after, left, right) - unrecorded(show, left, right)).empty?
        Mend.new(label: "Mend: plug them in the other way round", edits: [turned]) if heard && recorded && faults(after, desk, left, right, channels).empty?
      end

      # Sides whose track does not get what is plugged in.
      def unrecorded(show, *rows)
        rows.select { |row| show.tracks_of_row(row.id).any? { |track| !show.graph.line_back(track.place).include?(show.patch.plugs[row.id]) } }.map(&:id)
      end
      private_class_method :pairs, :channels, :faults, :neighbour, :order, :start, :feeds, :taps, :lane_tap, :finding, :mend, :unrecorded
    end
  end
end

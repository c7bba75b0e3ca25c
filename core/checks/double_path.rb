# frozen_string_literal: true

module Loomshuttle
  module Checks
    # One source reaches a mix by two ways: directly and through a group, or by two channels
    # that arrive at different times.
    module DoublePath
      module_function

      def findings(show)
        found = Signal::DoubleWays.of(show)
        found.group_by { |one| [one.ways.map(&:through), one.difference_samples, one.one_channel?] }.values.flat_map { |alike| merged(alike) }
          .map do |ones, mixes|
          finding(show, ones, mixes)
        end
      end

      # The same channels by the same ways into several mixes (both sides of the main) are
      # one mistake.
      def merged(alike)
        alike.group_by(&:mix).group_by { |_, ones| ones.map { |one| one.ways.map(&:channel) } }.values.map do |same|
          [same.first.last, same.map(&:first)]
        end
      end

      def finding(show, ones, mixes)
        channels = ones.flat_map { |one| one.ways.map(&:channel) }.uniq
        single = ones.size == 1
        Finding.new(rule: "double-path",
          severity: "warn",
          step: "patch",
          title: "#{Words::Runs.capital(names(show, ones.map { |one| one.ways.first.channel }))} #{single ? "is" : "are"} in #{names(show, mixes)} twice",
          what: "#{Words::Runs.capital(names(show, ones.map { |one| one.ways.first.channel }, 6))} #{single ? "reaches" : "reach"} #{names(show, mixes)} #{ways(show, ones.first)}: #{effect(show, ones.first.difference_samples)}.",
          why: "Added up they sound hollow, or simply too loud.",
          about: ones.first.ways.map { |way| [way.through, way.latency] },
          endpoints: [*mixes, *channels, *ones.first.ways.flat_map(&:through)].uniq,
          mend: mend(ones, mixes))
      end

      # A way that begins at another channel of the same source names that channel.
      def ways(show, one)
        one.ways.map do |way|
          passed = [*(way.channel unless one.one_channel?), *way.through].map { |id| show.label(id) }
          "#{passed.empty? ? "directly" : "through #{passed.join(" and ")}"} (#{way.latency} samples)"
        end.join(" and ")
      end

      # The first notch of a sum of a signal and its copy d later lies at 1/(2d).
      def effect(show, difference_samples)
        return "both arrive together and add up by 6.0 dB" if difference_samples.zero?

        "#{difference_samples} samples apart, with the first comb notch at #{(show.sample_rate_hz / (2.0 * difference_samples)).round} Hz"
      end

      def names(show, ids, most = 3)
        shown = ids.first(most).map { |id| show.label(id) }
        (ids.size > most) ? "#{shown.join(", ")} and #{ids.size - most} more" : shown.join(" and ")
      end

      # Taking the direct way off leaves the group in charge. Of two channels only the engineer
      # knows which one is meant.
      def mend(ones, mixes)
        return nil unless ones.first.one_channel? && ones.first.ways.any? { |way| way.through.empty? }

        direct = ones.map { |one| one.ways.first.channel }.product(mixes)
        Mend.new(label: "Mend: only through the group",
          edits: direct.map { |channel, mix| Edits::SetSend.new(channel: channel, mix: mix, on: false) })
      end
      private_class_method :merged, :finding, :ways, :effect, :names, :mend
    end
  end
end

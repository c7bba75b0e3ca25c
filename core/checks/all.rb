# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Runs every rule over a show. A rule is a module with one method, `findings(show)`, or, where
    # it names in READS what of the facts it needs, `findings(show, facts)`. One that hangs on a few parts of the
    # show may name them in HANGS_ON: as long as an edit leaves these alone, what it found stays.
    module All
      RULES = [ClockLeader, RateMatch, LinkLanes, PortMode, CableRun, Chain, NoSocket, Unpatched, Shared, Pair, Power,
        OrphanBus, DoublePath, Landing, Listeners, TapChoice, Drift,
        SilentLane, ColouredTap, RawOfReturn, BeyondCard, TrackName, Arm, Room, Feedback, Unheard,
        MixedFeed, Order, SecondSet, ReturnLevel, TakeFit, LeftOn, HeardBack,
        ClickReach, Roles, Twice, SongLanes, DeviceLanes, Arranged, StemFit, Fold, Spoken, SpareLanes].freeze
      SEVERITIES = %w[stop warn note].freeze

      module_function

      # Found once a show and facts.
      #
      # @param facts [Facts]
      # @return [Array<Finding>] gravest first; accepted ones are marked as long as what
      #   they are about is unchanged
      def findings(show, facts = Facts::NONE)
        found = show.once(:findings) { [] }
        return found[1] if found[0].equal?(facts)

        found.replace([facts, ordered(show, RULES.flat_map { |rule| of_rule(show, rule, facts) }).freeze])[1]
      end

      # What reads the plan alone is found once a show, whatever else becomes known.
      def of_rule(show, rule, facts)
        return rule.findings(show, facts) if rule.const_defined?(:READS)

        show.once(rule) { rule.const_defined?(:HANGS_ON) ? show.kept(rule, rule::HANGS_ON.call(show)) { rule.findings(show).freeze } : rule.findings(show).freeze }
      end

      def ordered(show, findings)
        findings.map { |finding| with_acceptance(show, finding) }
          .sort_by.with_index { |finding, i| [finding.accepted ? 1 : 0, SEVERITIES.index(finding.severity), i] }
      end

      def with_acceptance(show, finding)
        acceptance = show.accepted[finding.key]
        (acceptance && acceptance.digest == finding.digest) ? finding.with(accepted: acceptance) : finding
      end
      private_class_method :of_rule, :ordered, :with_acceptance
    end
  end
end

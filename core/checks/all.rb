# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Runs every rule over a show. A rule is a module with one method, `findings(show)`.
    module All
      RULES = [ClockLeader, RateMatch, LinkLanes, PortMode, CableRun, Chain, NoSocket, Unpatched, Shared, Pair, Power,
        OrphanBus, DoublePath, Landing,
        SilentLane, ColouredTap, MixedFeed, SecondSet, ClickReach].freeze
      SEVERITIES = %w[stop warn note].freeze

      module_function

      # @param known [Array<Finding>] of what is not in the show, from whoever knows it: what the
      #   desk has (Drift), at which rate takes are (RateMatch.of_takes)
      # @return [Array<Finding>] gravest first; accepted ones are marked as long as what
      #   they are about is unchanged
      def findings(show, known = [])
        own = show.once(:findings) { ordered(show, RULES.flat_map { |rule| rule.findings(show) }).freeze }
        known.empty? ? own : ordered(show, own + known)
      end

      def ordered(show, findings)
        findings.map { |finding| with_acceptance(show, finding) }
          .sort_by.with_index { |finding, i| [finding.accepted ? 1 : 0, SEVERITIES.index(finding.severity), i] }
      end

      def with_acceptance(show, finding)
        acceptance = show.accepted[finding.key]
        (acceptance && acceptance.digest == finding.digest) ? finding.with(accepted: acceptance) : finding
      end
      private_class_method :ordered, :with_acceptance
    end
  end
end

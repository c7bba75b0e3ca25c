# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Whether a mend would put a stop in place of what it mends: what comes to light behind a lane that
    # carries again, half of a swing that nobody made. Such a mend is not offered.
    module Soundness
      # Rules whose stops an edit of one place may raise elsewhere; beside them listeners that hear nothing more, and
      # lanes that carry no more.
      RULES = [MixedFeed, Order, Feedback, ClickReach].freeze
      private_constant :RULES

      module_function

      # @param edits [Array<Edit>]
      # @return [Boolean] false where they are refused, too
      def sound?(show, edits) = safe?(show, Edits::Group.new(edits: edits).apply(show))

      # @param after [Show, Refusal] what a mend leads to
      def safe?(show, after) = after.is_a?(Show) && (stopped(after) - stopped(show)).empty?

      # @return [Mend, nil]
      def mend(show, label, edits) = sound?(show, edits) ? Mend.new(label: label, edits: edits) : nil

      # Rule and place of what stops the sound there.
      def stopped(show)
        show.once(:stopped) { RULES.flat_map { |rule| rule.findings(show).select { |finding| finding.severity == "stop" }.flat_map { |finding| finding.endpoints.map { |id| [rule, id] } } } + Listeners.silent(show).flat_map(&:endpoints) + LostLanes.of(show).flat_map(&:lost) }
      end
      private_class_method :stopped
    end
  end
end

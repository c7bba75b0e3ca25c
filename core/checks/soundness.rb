# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Whether a mend would put a stop in place of what it mends: what comes to light behind a lane that
    # carries again, half of a swing that nobody made. Such a mend is not offered.
    module Soundness
      # Rules whose stops an edit of one place may raise elsewhere; beside them lanes that carry no more, and, where it
      # is about more than what is recorded, what listeners hear.
      RECORDED = [MixedFeed, Order, Feedback].freeze
      private_constant :RECORDED

      module_function

      # @param edits [Array<Edit>]
      # @return [Boolean] false where they are refused, too
      def sound?(show, edits) = safe?(show, Edits::Group.new(edits: edits).apply(show))

      # @param after [Show, Refusal] what a mend leads to
      # @param heard [Boolean] whether it may change what anybody hears
      def safe?(show, after, heard: true)
        return false unless after.is_a?(Show)

        (recorded(after) - recorded(show)).empty? && !(heard && (hearing(after) - hearing(show)).any?)
      end

      # @return [Mend, nil]
      def mend(show, label, edits) = sound?(show, edits) ? Mend.new(label: label, edits: edits) : nil

      # Rule and place of what stops the sound on its way to the recorder and back.
      def recorded(show) = show.once(:recorded_stops) { places(show, RECORDED) + LostLanes.of(show).flat_map(&:lost) }

      # And of what stops it on its way to people.
      def hearing(show) = show.once(:heard_stops) { places(show, [ClickReach]) + Listeners.silent(show).flat_map(&:endpoints) }

      def places(show, rules)
        rules.flat_map { |rule| rule.findings(show).select { |finding| finding.severity == "stop" }.flat_map { |finding| finding.endpoints.map { |id| [rule, id] } } }
      end
      private_class_method :recorded, :hearing, :places
    end
  end
end

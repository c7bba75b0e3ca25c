# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Part of a desk's channels listen to the recorder, others that could as well to the stage,
    # and nobody chose it: half of a swing. What has no track to come back was never to turn.
    module MixedFeed
      module_function

      def findings(show) = Signal::Feed.returning?(show) ? show.rig.all_of("desk").filter_map { |desk| half(show, desk) } : []

      def half(show, desk)
        feeds = Signal::Feed.of_channels(show, desk.id)
        return nil unless feeds.value?(:recorder)

        able = Signal::Sources.returns(show).keys - show.swung.keep
        back = feeds.select { |_, feed| feed == :recorder }.keys
        stage = feeds.select { |id, feed| feed == :stage && able.include?(id) }.keys
        finding(show, desk, back, stage) if stage.any?
      end

      def finding(show, desk, back, stage)
        of = Words::Runs.desk(show, desk)
        Finding.new(rule: "mixed-feed", severity: "stop", step: "soundcheck", title: "Half of the channels#{of} are on the recorder",
          what: "#{Words::Runs.plural("Channel", back)} #{Words::Runs.of(back)}#{of} #{verb(back)} to the recorder, #{Words::Runs.plural("channel", stage)} #{Words::Runs.of(stage)} to the stage.",
          why: "Whoever plays or sings into the turned channels is not heard.", endpoints: back + stage, mend: mend(show, desk))
      end

      def verb(ids) = (ids.size == 1) ? "listens" : "listen"

      def mend(show, desk)
        plan = Soundcheck::Swing.to_stage(show, desk: desk.id)
        return nil if plan.is_a?(Refusal) || plan.left.any?

        Mend.new(label: "Mend: turn all#{Words::Runs.desk(show, desk)} back to the stage", edits: plan.edit.edits)
      end
      private_class_method :half, :finding, :verb, :mend
    end
  end
end

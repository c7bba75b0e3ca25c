# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Part of the channels listen to the recorder, the others to the stage, and nobody
    # chose it: half of a swing.
    module MixedFeed
      module_function

      def findings(show)
        feeds = Signal::Feed.of_channels(show)
        chosen = show.swung.keep
        back, stage = %i[recorder stage].map { |feed| feeds.select { |id, is| is == feed && !chosen.include?(id) }.keys }
        (back.empty? || stage.empty?) ? [] : [finding(show, back, stage)]
      end

      def finding(show, back, stage)
        Finding.new(rule: "mixed-feed", severity: "stop", step: "soundcheck", title: "Half of the channels are on the recorder",
          what: "#{Words::Runs.plural("Channel", back)} #{Words::Runs.of(back)} #{verb(back)} to the recorder, #{Words::Runs.plural("channel", stage)} #{Words::Runs.of(stage)} to the stage.",
          why: "Whoever plays or sings into the turned channels is not heard.", endpoints: back + stage, mend: mend(show))
      end

      def verb(ids) = (ids.size == 1) ? "listens" : "listen"

      def mend(show)
        plan = Soundcheck::Swing.to_stage(show)
        Mend.new(label: "Mend: turn all back to the stage", edits: plan.edits) unless plan.is_a?(Refusal)
      end
      private_class_method :finding, :verb, :mend
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A take runs while a desk listens to the recorder: it records what it plays, or nothing.
    module LeftOn
      READS = %i[engine].freeze

      module_function

      def findings(show, facts)
        return [] unless facts.engine && facts.engine[:recording]

        show.rig.all_of("desk").select { |desk| Signal::Feed.of_desk(show, desk.id) == :recorder }.map do |desk|
          Finding.new(rule: "left-on", severity: "stop", step: "soundcheck", variant: "take", title: "#{desk.name} still listens to the recorder",
            what: "Take #{facts.engine[:recording]} runs, and channels of #{desk.name} listen to the recorder instead of the stage.",
            why: "Nobody on stage is heard through them.", endpoints: Signal::Feed.of_channels(show, desk.id).select { |_, feed| feed == :recorder }.keys, mend: back(show, desk))
        end
      end

      def back(show, desk)
        plan = Soundcheck::Swing.to_stage(show, desk: desk.id)
        Mend.new(label: "Mend: turn #{desk.name} back to the stage", edits: plan.edits) unless plan.is_a?(Refusal) || plan.left.any?
      end
      private_class_method :back
    end
  end
end

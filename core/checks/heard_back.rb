# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A return ping was sent with the patch as it is, and what came back is not what the plan says.
    module HeardBack
      READS = %i[soundcheck].freeze

      module_function

      def findings(show, facts)
        heard = facts.soundcheck or return []
        planned = Signal::Feed.of_desk(show)
        return [left_on(show, heard)] if heard[:heard] == :recorder && planned == :stage

        heard[:wrong].any? ? [crossed(heard)] : []
      end

      def left_on(show, heard)
        Finding.new(rule: "heard-back", severity: "stop", step: "soundcheck", variant: "left on", title: "A desk was heard to listen to the recorder",
          what: "The plan has every channel on the stage, and what the recorder sent came back all the same.", why: "Nobody on stage is heard through such a channel.",
          endpoints: heard[:places], about: heard[:wrong])
      end

      def crossed(heard)
        Finding.new(rule: "heard-back", severity: "stop", step: "soundcheck", title: "What comes back from the recorder is not what the plan says",
          what: heard[:said].join(" "), why: "What is set by ear at the virtual soundcheck is set on the wrong strip, or on none.", endpoints: heard[:places], about: heard[:wrong])
      end
      private_class_method :left_on, :crossed
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A lane takes a channel raw, at its socket, while that channel listens to the computer: the
    # lane carries nothing.
    module RawOfReturn
      module_function

      def findings(show)
        return [] unless Signal::Feed.returning?(show)

        lanes = show.tracks.values.select(&:armed).filter_map { |track| dead(show, track) }
        return [] if lanes.empty?

        channels = lanes.map { |lane| show.patch.slots[lane].from }
        [Finding.new(rule: "raw-of-return", severity: "warn", step: "capture",
          title: "#{Words::Runs.capital(Words::Runs.places(show, lanes))} #{(lanes.size == 1) ? "carries" : "carry"} nothing while the desk listens to the recorder",
          what: "#{Words::Runs.capital(Words::Runs.places(show, lanes))} #{(lanes.size == 1) ? "takes" : "take"} #{Words::Runs.channels(show, channels)} raw, and #{(channels.size == 1) ? "that channel listens" : "those channels listen"} to the recorder.",
          why: "A raw tap is the socket's signal: a take made now would hold silence on these tracks.", endpoints: lanes + channels)]
      end

      # @return [String, nil] the slot on a track's way that takes such a channel
      def dead(show, track)
        slot = show.graph.line_back(track.place).last
        pick = show.patch.slots[slot]
        slot if pick && pick.tap == "raw" && show.rig.kind_of(pick.from) == "channel" && Signal::Feed.of(show, pick.from) == :recorder
      end
      private_class_method :dead
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A signal comes round to itself: through a recorder that passes its inputs on (software
    # monitoring), or through mixes that feed each other. Rule `loop` of the design.
    module Feedback
      module_function

      # What goes round through tracks is one fact, however many they are.
      def findings(show)
        through_tracks, mixed = Signal::Cycles.of(show).partition { |places| places.any? { |id| show.graph.track?(id) } }
        [(finding(show, through_tracks.flatten.uniq) if through_tracks.any?), *mixed.map { |places| finding(show, places) }].compact
      end

      def finding(show, places)
        tracks = places.select { |id| show.graph.track?(id) }
        ordered = places.sort_by { |id| Endpoint.parse(id).then { |place| [place.device, place.family, place.number.to_i] } }
        Finding.new(rule: "loop", severity: "stop", step: tracks.any? ? "soundcheck" : "patch",
          title: if tracks.any?
                   "#{Words::Runs.capital(Words::Runs.places(show, tracks))} would feed #{(tracks.size == 1) ? "itself" : "themselves"}"
                 else
                   "#{Words::Runs.capital(show.label(ordered.first))} feeds itself"
                 end,
          what: "The signal goes round over #{Words::Runs.names(ordered.map { |id| show.label(id) }, 8)}.",
          why: tracks.any? ? "With software monitoring on it howls at once, as loud as the system goes." : "It howls as soon as the levels add up.",
          endpoints: ordered)
      end
      private_class_method :finding
    end
  end
end

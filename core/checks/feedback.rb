# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A signal comes round to itself: through a recorder that passes its inputs on (software
    # monitoring), or through mixes that feed each other. Rule `loop` of the design.
    #
    # A track that plays to the channel it is recorded from is no mistake: where lanes take channels as they come in, every
    # virtual soundcheck is so. Loomshuttle's recorder passes no input on, so it is told as a note to whoever records with another.
    module Feedback
      module_function

      # What goes round through tracks is one fact, however many they are.
      def findings(show)
        through_tracks, mixed = Signal::Cycles.of(show).partition { |places| places.any? { |id| show.graph.track?(id) } }
        own, crossed = through_tracks.partition { |places| own?(show, places) }
        [(howls(show, crossed.flatten.uniq) if crossed.any?), *mixed.map { |places| adds_up(show, places) }, (monitoring(show, own.flatten.uniq) if own.any?)].compact
      end

      # One track and one channel, and neither a mix nor another track between them.
      def own?(show, places)
        kinds = places.map { |id| show.rig.kind_of(id) }.tally
        kinds["track"] == 1 && kinds["channel"] == 1 && (kinds.keys & %w[bus main matrix]).empty?
      end

      def howls(show, places)
        tracks = tracks(show, places)
        finding(show, places, severity: "stop", step: "soundcheck", title: "#{Words::Runs.capital(tracks_of(tracks))} would feed #{(tracks.size == 1) ? "itself" : "themselves"}",
          why: "With software monitoring on it howls at once, as loud as the system goes.")
      end

      def adds_up(show, places)
        finding(show, places, severity: "stop", step: "patch", title: "#{Words::Runs.capital(show.label(in_order(places).first))} feeds itself", why: "It howls as soon as the levels add up.")
      end

      def monitoring(show, places)
        tracks = tracks(show, places)
        one = tracks.size == 1
        finding(show, places, severity: "note", step: "soundcheck", title: "No software monitoring while the desk listens to the recorder",
          what: "#{Words::Runs.capital(tracks_of(tracks))} #{one ? "plays to the channel that it is" : "play to the channels that they are"} recorded from.",
          why: "This recorder passes no input on. Another one that does would howl at once, as loud as the system goes.")
      end

      def finding(show, places, severity:, step:, title:, why:, what: "The signal goes round over #{Words::Runs.places(show, in_order(places))}.")
        Finding.new(rule: "loop", severity: severity, step: step, title: title, what: what, why: why, endpoints: in_order(places))
      end

      def tracks(show, places) = places.select { |id| show.graph.track?(id) }
      def tracks_of(tracks) = "#{Words::Runs.plural("track", tracks)} #{Words::Runs.of(tracks)}"
      def in_order(places) = places.sort_by { |id| Endpoint.parse(id).then { |place| [place.device, place.family, place.number.to_i] } }
      private_class_method :own?, :howls, :adds_up, :monitoring, :finding, :tracks, :tracks_of, :in_order
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Sources whose track is not armed, and armed tracks at which nothing arrives.
    module Arm
      module_function

      def findings(show)
        armed, idle = show.tracks.values.partition(&:armed)
        # Nobody has begun to arm: that is no mistake.
        armed.empty? ? [] : [*unarmed(show, idle), *empty(show, armed)]
      end

      def unarmed(show, idle)
        tracks = idle.select { |track| show.rows.key?(show.graph.line_back(track.place).last) }
        return [] if tracks.empty?

        [Finding.new(rule: "arm", severity: "note", step: "capture", title: "#{Words::Runs.count(tracks.size, "track")} with a source #{(tracks.size == 1) ? "is" : "are"} not armed",
          what: "#{Words::Runs.names(tracks.map(&:name))} #{(tracks.size == 1) ? "gets a source and is" : "get sources and are"} not armed.", why: "They will be missing from the take.",
          endpoints: tracks.map(&:place), mend: Mend.new(label: "Mend: arm #{(tracks.size == 1) ? "it" : "them"}", edits: [Edits::Arm.new(tracks: tracks.map(&:id), armed: true)]))]
      end

      # Where a row is plugged in that should arrive, silent-lane says it.
      def empty(show, armed)
        tracks = armed.reject { |track| show.patch.plugs.key?(track.row) || arriving?(show, track) }
        return [] if tracks.empty?

        [Finding.new(rule: "arm", severity: "warn", step: "capture", variant: "empty",
          title: "#{Words::Runs.count(tracks.size, "armed track")} #{(tracks.size == 1) ? "gets" : "get"} nothing",
          what: "Nothing arrives at #{Words::Runs.names(tracks.map(&:name))}.", why: "They would record silence.",
          endpoints: tracks.map(&:place), mend: Mend.new(label: "Mend: disarm #{(tracks.size == 1) ? "it" : "them"}", edits: [Edits::Arm.new(tracks: tracks.map(&:id), armed: false)]))]
      end

      def arriving?(show, track) = show.graph.line_back(track.place).drop(1).any? && Signal::Carried.anything?(show, show.graph.line_back(track.place)[1])
      private_class_method :unarmed, :empty, :arriving?
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Every stem of the set is there, as long as it was when it was taken in, and as long as its song.
    module StemFit
      READS = %i[stems].freeze
      # An ending of so much less is how a file was cut, not what somebody forgot.
      SHORTER_S = 0.5
      WHY = "Without it the song is refused at Go, or goes on without that part."
      SHORT_WHY = "It may have been bounced too short: from there on that part is silent."
      private_constant :SHORTER_S, :WHY, :SHORT_WHY

      module_function

      def findings(show, facts) = show.songs.flat_map { |song| [*lost(song, facts.stems.to_h.fetch(song.id, {})), *short(song)] }

      # @param faults [Hash{String => String}] file => "missing" or "cut"
      def lost(song, faults)
        [*lost_stems(song, faults), *lost_sounds(song, faults)]
      end

      def lost_stems(song, faults)
        stems = song.stems.select { |stem| faults.key?(stem.file) }
        return [] if stems.empty?

        gone, cut = stems.partition { |stem| faults[stem.file] == "missing" }
        said = [("#{names(gone)} of #{song.title} #{(gone.size == 1) ? "is" : "are"} not on this machine's disk." if gone.any?),
          ("#{names(cut)} of #{song.title} #{(cut.size == 1) ? "is" : "are"} shorter on disk than when #{(cut.size == 1) ? "it was" : "they were"} taken in." if cut.any?)]
        [Finding.new(rule: "stem-fit", severity: "stop", step: "tracks", title: "#{song.title} has lost #{names(stems)}", what: said.compact.join(" "), why: WHY,
          endpoints: stems.map { |stem| "#{song.id}/#{stem.file}" })]
      end

      def lost_sounds(song, faults)
        lost = song.own_sounds.map { |id| Show::OwnSound.path(id, song.sample_rate_hz) }.select { |path| faults.key?(path) }
        return [] if lost.empty?

        [Finding.new(rule: "stem-fit", severity: "stop", step: "tracks", title: "#{song.title} has lost #{(lost.size == 1) ? "a sound" : "#{lost.size} sounds"} of its own", variant: "sounds",
          what: "What its click or its cues are made of is not on this machine's disk. Bring it again, or choose another sound in the song.", why: WHY, endpoints: lost.map { |path| "#{song.id}/#{path}" })]
      end

      def short(song)
        # One at another rate is another finding's.
        alike = song.stems.select { |stem| stem.sample_rate_hz == song.sample_rate_hz }
        most = alike.map { |stem| ends_s(stem) }.max or return []
        early = alike.select { |stem| most - ends_s(stem) > SHORTER_S }
        return [] if early.empty?

        [Finding.new(rule: "stem-fit", severity: "note", step: "tracks", title: "#{names(early)} #{(early.size == 1) ? "ends" : "end"} before #{song.title} does",
          what: early.map { |stem| "#{stem.name} ends #{(most - ends_s(stem)).round(1)} s before the longest stem of #{song.title}." }.first(3).join(" "), why: SHORT_WHY,
          endpoints: early.map { |stem| "#{song.id}/#{stem.file}" })]
      end

      def ends_s(stem) = stem.frames.fdiv(stem.sample_rate_hz)
      def names(stems) = Words::Runs.names(stems.map(&:name), 3)
      private_class_method :lost, :short, :ends_s, :names
    end
  end
end

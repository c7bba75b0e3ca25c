# frozen_string_literal: true

module Loomshuttle
  module Checks
    # What a song wants read out lies ready.
    module Spoken
      module_function

      def findings(show)
        show.songs.filter_map do |song|
          missing = Show::SpokenCue.phrases(song).except(*song.spoken).values
          next if missing.empty?

          Finding.new(rule: "unspoken", severity: "warn", step: "tracks", title: "#{missing.size} #{(missing.size == 1) ? "cue" : "cues"} of #{song.title} #{(missing.size == 1) ? "is" : "are"} not spoken yet",
            what: "#{Words::Runs.names(missing.map { |text| "\"#{text}\"" }, 3)} would not be heard: the background work that speaks is not done, or failed.", why: "The band would wait for words that do not come.",
            endpoints: [Endpoint.id("songs", "role", Show::CUE_ROLE)], variant: song.id)
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Songs of the set list have the arrangements that it asks for.
    module Arranged
      module_function

      WHY = "It is refused when somebody says Go, in front of everybody."
      private_constant :WHY

      def findings(show)
        show.songs.filter_map { |song| [song, Show::Played.of(show, song).lost] }.select(&:last).map do |song, name|
          Finding.new(rule: "arrangement", severity: "stop", step: "tracks", title: "#{song.title} has no #{name}",
            what: "The set list plays #{song.title} as #{name}; the song has no such arrangement any more.", why: WHY, endpoints: ["#{song.id}/#{name}"],
            mend: Mend.new(label: "Mend: play #{song.title} as it lies", edits: [Edits::SetListed.new(song: song.id, arrangement: nil)]))
        end
      end
    end
  end
end

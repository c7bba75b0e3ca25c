# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Songs of the set list have the arrangements and tempi that it asks for.
    module Arranged
      module_function

      WHY = "It is refused when somebody says Go, in front of everybody."
      private_constant :WHY

      def findings(show) = arrangements(show) + tempi(show)

      def tempi(show)
        show.songs.select { |song| show.set_list[song.id].percent && show.set_list[song.id].percent != song.percent }.map do |song|
          percent = show.set_list[song.id].percent
          Finding.new(rule: "tempo", severity: "stop", step: "tracks", title: "#{song.title} is not there at #{percent} %", what: "The set list plays #{song.title} at #{percent} % of its tempo; that tempo is not prepared.",
            why: WHY, endpoints: ["#{song.id}/#{percent}"],
            mend: Mend.new(label: "Mend: play #{song.title} at its own tempo", edits: [Edits::SetListed.new(song: song.id, percent: nil)]))
        end
      end

      def arrangements(show)
        show.songs.filter_map { |song| [song, Show::Played.of(show, song).lost] }.select(&:last).map do |song, name|
          Finding.new(rule: "arrangement", severity: "stop", step: "tracks", title: "#{song.title} has no #{name}",
            what: "The set list plays #{song.title} as #{name}; the song has no such arrangement any more.", why: WHY, endpoints: ["#{song.id}/#{name}"],
            mend: Mend.new(label: "Mend: play #{song.title} as it lies", edits: [Edits::SetListed.new(song: song.id, arrangement: nil)]))
        end
      end
      private_class_method :tempi, :arrangements
    end
  end
end

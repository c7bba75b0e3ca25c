# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A track that is not called what its row is called, two that are called alike, and names that no
    # file system takes as they are.
    module TrackName
      HANGS_ON = ->(show) { [show.tracks, show.rows] }

      module_function

      def findings(show) = [*others(show), *alike(show), *unsafe(show)]

      def others(show)
        tracks = show.tracks.values.select { |track| show.rows.key?(track.row) && show.rows[track.row].name != track.name }
        return [] if tracks.empty?

        first = tracks.first
        [Finding.new(rule: "track-name", severity: "note", step: "capture", variant: "other",
          title: (tracks.size == 1) ? "Track #{first.number} is called #{first.name}, its source #{show.rows[first.row].name}" : "#{tracks.size} tracks are not called what their sources are",
          what: "#{Words::Runs.names(tracks.map { |track| "#{track.name} records #{show.rows[track.row].name}" }, 4)}.",
          why: "Files are called by their tracks: whoever mixes them later looks for the source's name.",
          endpoints: tracks.map(&:place), about: tracks.map { |track| [track.name, show.rows[track.row].name] },
          mend: Mend.new(label: "Mend: call #{(tracks.size == 1) ? "it" : "them"} what the #{Words::Runs.plural("source", tracks)} #{(tracks.size == 1) ? "is" : "are"} called",
            edits: tracks.map { |track| Edits::Rename.new(id: track.id, name: show.rows[track.row].name) }))]
      end

      # On one recorder: numbers keep their files apart, nothing keeps people from taking one for the other.
      def alike(show)
        show.tracks.values.group_by { |track| [track.recorder, track.name.downcase] }.values.select { |tracks| tracks.size > 1 }.map do |tracks|
          Finding.new(rule: "track-name", severity: "warn", step: "capture", variant: "alike",
            title: "#{tracks.size} tracks are called #{tracks.first.name}",
            what: "Tracks #{Words::Runs.text(tracks.map(&:number))} are all called #{tracks.first.name}.".sub("all", (tracks.size == 2) ? "both" : "all"),
            why: "Nobody will know which file is which.", endpoints: tracks.map(&:place))
        end
      end

      def unsafe(show)
        tracks = show.tracks.values.reject { |track| Capture::FileName.keeps?(track.name) }
        return [] if tracks.empty?

        [Finding.new(rule: "track-name", severity: "note", step: "capture", variant: "file",
          title: "#{(tracks.size == 1) ? "A track's name changes" : "#{tracks.size} tracks' names change"} on disk",
          what: "#{Words::Runs.names(tracks.map { |track| "#{track.name} becomes \"#{Capture::FileName.of(track.number, track.name)}\"" }, 3)}.",
          why: "Some signs cannot stand in a file's name everywhere; the name itself is kept in the file.", endpoints: tracks.map(&:place), about: tracks.map(&:name))]
      end
      private_class_method :others, :alike, :unsafe
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # Songs of a show's set list as files that any player can run, below the data folder; what has not changed stays.
      class Bounce < Job
        FOLDER = "bounced"

        # @param data_folder [String]
        # @param place [Hash] of the show
        # @return [String] of all songs of a show
        def self.folder(data_folder, place) = File.join(data_folder, FOLDER, place[:uid])

        def work(given)
          show = parts.shows.load(given["show"]).show
          songs = given["songs"] ? show.songs.select { |song| given["songs"].include?(song.id) } : show.songs
          raise BadInput.new(field: "songs", value: given["songs"].to_a.join(", "), allowed: "songs of the set list") if songs.empty?

          out = self.class.folder(parts.data_folder, parts.shows.place(given["show"]))
          folders = parts.songs.folders(songs.map(&:id))
          bounce = Files::Bounce.new(show) { |song, file, shared| path(shared ? "" : folders[song.id], song, file) }
          reports = songs.each_with_index.map do |song, at|
            step(at, songs.size, "songs")
            bounce.write(song, File.join(out, song.id), one_file: given["one_file"] || false) { go_on! }
          end
          step(songs.size, songs.size, "songs")
          finish(words(reports, out)) {}
        end

        private

        def path(folder, song, file)
          path = File.join(parts.data_folder, "songs", folder.to_s, file)
          File.file?(path) ? path : raise(BadInput.new(field: "file", value: file, allowed: "a file of #{song.title} that is on disk"))
        end

        def words(reports, out)
          same = reports.count { |report| report[:unchanged] }
          over = reports.flat_map { |report| report[:clipped].select { |_, samples| samples.positive? }.map { |lane, samples| "#{lane} of #{report[:song]} (#{samples} #{(samples == 1) ? "sample" : "samples"})" } }
          ["#{reports.size} #{(reports.size == 1) ? "song" : "songs"} in #{out}#{", #{same} as before" if same.positive?}.", ("Cut off at full scale: #{Loomshuttle::Words::Runs.names(over, 5)}." if over.any?)].compact.join(" ")
        end
      end
    end
  end
end

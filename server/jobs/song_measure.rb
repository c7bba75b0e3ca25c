# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # How songs sound that came without anybody measuring them: loudness and peaks, what their sides lose on one lane, and
      # their waveform.
      class SongMeasure < Job
        include Measured

        self.priority = BY_ITSELF
        GIVE_WAY_S = 0.5
        private_constant :GIVE_WAY_S

        def work(given)
          songs = given["songs"].map { |id| parts.songs.summary(id) }
          # All of a song together is one more.
          steps = songs.map { |song| song.stems.size + 1 }
          lost = []
          found = songs.each_with_index.filter_map do |song, at|
            [song, of_song(song, steps.first(at).sum, steps.sum)]
          rescue BadInput => e
            # One that cannot be read keeps no other from being known.
            lost << e
            nil
          end
          raise lost.first if found.empty?

          finish(words(found.size, lost)) { found.each { |song, (whole, stems)| parts.songs.measured(song.id, whole, stems) } }
        end

        private

        def words(count, lost)
          ["#{count} #{(count == 1) ? "song" : "songs"} measured.", ("Not measured: #{lost.first(3).map(&:message).join("; ")}#{", and #{lost.size - 3} more" if lost.size > 3}." if lost.any?)].compact.join(" ")
        end

        # All stems together go first: that takes longest.
        #
        # @return [Array<Hash>] of all together, and of each file
        def of_song(song, done, all)
          folder = File.join(parts.data_folder, "songs", parts.songs.folder(song.id).to_s)
          paths = song.stems.map { |stem| there(File.join(folder, stem.file), song) }
          whole, *sounds = each_file([nil, *paths], done: done, of: all) do |path|
            give_way
            path ? measured(path, File.basename(path)) : together(paths, song.title)
          end
          draw(folder, sounds.flat_map { |sound| sound[:extremes] })
          [whole, song.stems.map(&:file).zip(sounds).to_h.transform_values { |sound| sound.except(:extremes, :frames) }]
        end

        # What somebody waits for has the cores for itself; what only waits may wait for this very worker.
        def give_way
          while tasks.others?("song_measure")
            go_on!
            sleep GIVE_WAY_S
          end
        end

        def there(path, song)
          File.file?(path) ? path : raise(BadInput.new(field: "file", value: File.basename(path), allowed: "a file of #{song.title} that is on disk"))
        end
      end
    end
  end
end

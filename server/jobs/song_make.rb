# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # Makes a song of the library: every stem at the library's rate, mono or stereo as it is; then the song's row, and its place
      # in a set list. How it sounds takes longer to learn than the song takes to make: a task of its own does that afterwards.
      class SongMake < OfImport
        MARKERS_MAX = 500
        private_constant :MARKERS_MAX

        def work(given)
          import!
          return finish {} if made?

          clear
          FileUtils.mkdir_p(staged, mode: 0o700)
          files = parts.imports.files(@import[:id]).to_h { |file| [file[:number], file] }
          stems = each_file(places(given, files)) { |stem, file, name, original| bring(stem, file, name, original, given["rate_hz"]) }
          # Those of the stem that has most: several stems of one song bring the same.
          keep(given, stems, stems.map { |stem| stem.delete(:markers) }.max_by(&:size) || [])
        end

        private

        def id = "#{Loomshuttle::Words::RoleNames.of(@title || "song")[0, 46]}-#{@import[:uid][0, 8]}"

        def prepare(args)
          super
          @title = args["title"]
        end

        def made? = parts.songs.there?(id)
        def songs_folder = File.join(parts.data_folder, "songs")
        def staged = File.join(songs_folder, ".making-#{@import[:uid]}")
        def remains = [staged, File.join(songs_folder, id)]

        # @return [Array<Array>] each stem with its file, its name here, and where its original is kept, if it is
        def places(given, files)
          files = given["stems"].map { |stem| files.fetch(stem["file"]) }
          names = Loomshuttle::Capture::FileName.all_imported(files.map { |file| "#{file[:title].sub(/\.\w{2,4}\z/, "")}.wav" })
          originals = given["keep"] ? Loomshuttle::Capture::FileName.all_imported(files.map { |file| file[:title] }, endings: /\.\w{2,4}\z/) : []
          given["stems"].zip(files, names, originals.map { |name| File.join("originals", name) })
        end

        # @return [Hash] the stem's row, with its markers
        def bring(stem, file, name, original, rate_hz)
          target = File.join(staged, name)
          # Played every night, and brought once: what lies there as it is rendered costs a fraction of what has to be unpacked.
          convert([{source: source(file), target: target, codec: "pcm_f32le", title: file[:title]}], rate_hz)
          keep_original(file, original) if original
          {name: stem["name"], role: stem["role"], file: name, original: original, channels: file[:holds]["channels"], sample_rate_hz: rate_hz,
           frames: frames(target), markers: markers(source(file), rate_hz)}
        end

        def frames(path) = File.open(path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).frames }

        # A conversion drops them.
        def markers(path, rate_hz)
          File.open(path, "rb") do |io|
            reader = Loomshuttle::Audio::Wav::Reader.new(io)
            reader.markers.first(MARKERS_MAX).map { |marker| {frame: Rational(marker[:frame] * rate_hz, reader.format.sample_rate_hz).round, label: marker[:label].strip[0, 100]} }
          end
        rescue Loomshuttle::BadInput, SystemCallError
          # What is no WAV file has none that we read.
          []
        end

        def keep_original(file, original)
          FileUtils.mkdir_p(File.dirname(File.join(staged, original)), mode: 0o700)
          FileUtils.cp(source(file), File.join(staged, original))
        end

        def keep(given, stems, markers)
          File.rename(staged, File.join(songs_folder, id))
          finish("The song is in the library.") do
            parts.songs.create({id: id, title: given["title"], bpm: given["bpm"], beats_per_bar: given["beats_per_bar"] || 4, sample_rate_hz: given["rate_hz"],
                                length_frames: stems.map { |stem| stem[:frames] }.max, folder: id, markers: markers}, stems)
            tasks.begin("song_measure", "Measuring #{given["title"]}", songs: [id])
            parts.imports.state(@import[:id], "made")
            list(given["show"]) if given["show"]
          end
          FileUtils.rm_rf(uploads)
        end

        # At the end of a show's set list, as an edit of whoever asked for it.
        def list(show_id)
          author = Store::History::Author.new(who: "the worker", client: "worker")
          parts.shows.change(show_id, nil) do |before, now|
            known = parts.songs.known(before, [id])
            edit = Loomshuttle::Edits::SetSetList.new(songs: known.set_list.keys | [id])
            after = edit.apply(known)
            parts.history.remember(show_id, author, now + 1, "Add #{@title} to the set list", edit, before, after)
            after
          end
        rescue BadInput
          # The show has been deleted meanwhile; the song is made all the same.
          nil
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Takes in a recording made elsewhere: each file is matched to a track by its name; what did not match
      # is settled by hand, and only then does the worker make a take of it. Files at the show's rate are
      # kept bit for bit.
      class Import
        # @param workspaces [Workspaces]
        # @param imports [Store::Imports]
        # @param tasks [Store::Tasks]
        # @param landing [Landing]
        # @param soundchecks [Store::Beside]
        def initialize(workspaces:, imports:, tasks:, landing:, soundchecks:)
          @workspaces, @imports, @tasks, @landing, @soundchecks = workspaces, imports, tasks, landing, soundchecks
        end

        # @param files [Array<Hash>] {"name", "bytes"} that a browser will bring
        # @return [Integer] id
        # @raise [BadInput]
        def open(show_id, files)
          workspace = @workspaces[show_id]
          free = workspace.free_bytes
          @landing.open(show_id, files, free && free - workspace.session.margin_bytes)
        end

        def open_folder(show_id, path) = @landing.open_folder(show_id, path)

        # @param take [Integer, nil] of several that lie in the folder; nil for the newest
        # @return [Hash] state, task, files; when all are looked at, which goes where
        def plan(show_id, id, take: nil)
          import = @imports.find(show_id, id)
          show = @workspaces[show_id].show
          files = @imports.files(id).reject { |file| file[:number] == import[:list]&.dig("file") }
          whole = files.select { |file| file[:holds] }
          {id: id, state: import[:state], task: import[:task_id], tracks: show.tracks.values.map { |track| {id: track.id, name: track.name} },
           files: files.map { |file| file.slice(:number, :title, :bytes, :landed, :holds, :fault) },
           rate_faults: whole.reject { |file| file[:holds]["sample_rate_hz"] == show.sample_rate_hz }.map { |file| file[:number] },
           starts: starts(show, whole), list: import[:list]&.dig("title"), **matched(show_id, show, whole, list_of(import), take)}
        end

        # @param places [Array<Hash>] {"file" (its number), "channel", "track", "at_frames" after the take's beginning, 0 where it
        #   is not said}; what is left out stays out
        # @param convert [Boolean] files at another rate are brought to the show's
        # @return [Integer] id of the task that makes the take
        # @raise [BadInput]
        def accept(show_id, id, name, places, convert: false)
          import = @imports.find(show_id, id)
          raise BadInput.new(field: "import", value: import[:state], allowed: "one that is open") unless import[:state] == "open"

          show = @workspaces[show_id].show
          files = @imports.files(id)
          check_places(files.to_h { |file| [file[:number], file] }, show, places, convert)
          remember(show_id, show, files.select { |file| file[:holds] }, list_of(import), places)
          subject = "Taking in #{name.empty? ? "a recording" : name} for #{show.name}"
          @tasks.begin("import_take", subject, show_id: show_id, import: id, name: name, places: places, rate_hz: show.sample_rate_hz).tap do |task|
            @imports.task(id, task, state: "making")
          end
        end

        # By how much a file begins later than another, by what both hear.
        #
        # @param part, like [Hash] {"file" (its number), "channel"}
        # @return [Hash] later_frames, at the show's rate; nil where nothing tells
        # @raise [BadInput]
        def offset(show_id, id, part, like)
          import = @imports.find(show_id, id)
          rates = [part, like].map { |one| held(import, one)["sample_rate_hz"] }
          raise BadInput.new(field: "file", value: rates.join(" and ") + " Hz", allowed: "two files of one rate") if rates.uniq.size > 1

          found = Ear::Offset.of_long(*[like, part].map { |one| heard(import, one) })
          {later_frames: found && (-found.delay_frames * Rational(@workspaces[show_id].show.sample_rate_hz, rates.first)).round}
        end

        # @return [Hash] what a WAV file holds, plain
        # @raise [BadInput] for one that cannot be read
        def self.inspect(path, title)
          File.open(path, "rb") do |io|
            reader = Audio::Wav::Reader.new(io)
            raise BadInput.new(field: title, value: "0 frames", allowed: "a file that holds samples") if reader.frames == 0

            {time_reference: reader.time_reference_samples, encoding: reader.format.encoding, bits: reader.format.bits, channels: reader.format.channels,
             sample_rate_hz: reader.format.sample_rate_hz, frames: reader.frames, names: reader.track_names.map(&:scrub), warnings: reader.warnings.map(&:scrub)}
          end
        rescue Audio::Wav::Malformed => e
          raise BadInput.new(field: title, value: e.value, allowed: e.allowed)
        rescue SystemCallError => e
          raise BadInput.new(field: title, value: e.message, allowed: "a file that can be read")
        end

        private

        # Of a file so much is listened to.
        HEARD_S = 120
        PIECE_FRAMES = 2**18
        private_constant :HEARD_S, :PIECE_FRAMES

        def held(import, part)
          file = @imports.file(import[:id], part["file"])
          holds = file[:holds] or raise BadInput.new(field: "file", value: part["file"], allowed: "a file of this import that could be read")
          raise BadInput.new(field: "channel", value: part["channel"], allowed: "1 to #{holds["channels"]} of #{file[:title]}") unless part["channel"].between?(1,
            holds["channels"])

          holds
        end

        # @return [Numo::SFloat] [frames] of one channel
        def heard(import, part)
          file = @imports.file(import[:id], part["file"])
          File.open(@landing.path(import, file), "rb") do |io|
            reader = Audio::Wav::Reader.new(io)
            frames = [HEARD_S * reader.format.sample_rate_hz, reader.frames].min
            pieces = (0...frames).step(PIECE_FRAMES).map { |from| Numo::SFloat.cast(reader.read_s32(from, [PIECE_FRAMES, frames - from].min)[true, part["channel"] - 1]) }
            Numo::SFloat.hstack(pieces) / Audio::Scale::FULL_SCALE_S32
          end
        rescue Audio::Wav::Malformed, SystemCallError => e
          raise BadInput.new(field: "file", value: part["file"], allowed: "a file that can be read: #{e.message}")
        end

        def starts(show, files)
          told = files.map { |file| {name: file[:number], sample_rate_hz: file[:holds]["sample_rate_hz"], time_reference: file[:holds]["time_reference"]} }
          Soundcheck::Starts.of(told, show.sample_rate_hz).map { |number, at_frames| {file: number, at_frames: at_frames} }
        end

        def named(files) = files.map { |file| {name: file[:number], title: file[:title], channels: file[:holds]["channels"], names: file[:holds]["names"]} }
        def list_of(import) = import[:list].to_h.fetch("names", {}).transform_keys(&:to_i)

        def matched(show_id, show, files, list, take = nil)
          Soundcheck::Matching.match(show.tracks.values, named(files), take: take, known: @soundchecks.of(show_id).state.known, list: list)
        end

        # What somebody settled otherwise than the names say, or where they were not sure.
        def remember(show_id, show, files, list, places)
          sure = matched(show_id, show, files, list)[:matched].select { |one| one[:sure] }.to_h { |one| [one.values_at(:file, :channel), one[:track]] }
          keys = Soundcheck::Matching.keys(named(files), list)
          settled = places.to_h { |place| [place.values_at("file", "channel"), place["track"]] }.reject { |part, track| sure[part] == track }
          learnt = settled.to_h { |part, track| [keys[part].to_s, track] }.except("")
          @soundchecks.change(show_id) { |state| state.with(known: {**state.known, **learnt}.to_a.last(KNOWN_MAX).to_h.freeze) } if learnt.any?
        end

        # A few folders' worth.
        KNOWN_MAX = 500
        private_constant :KNOWN_MAX

        def check_places(files, show, places, convert)
          raise BadInput.new(field: "places", value: 0, allowed: "at least one file on a track") if places.empty?

          places.each { |place| check_place(files[place["file"]], show, place, convert) }
          twice = places.map { |place| place["track"] }.tally.find { |_, count| count > 1 }
          raise BadInput.new(field: "track", value: twice.first, allowed: "one file channel a track") if twice
        end

        def check_place(file, show, place, convert)
          raise BadInput.new(field: "file", value: place["file"], allowed: "a file of this import that could be read") unless file && file[:holds]
          raise BadInput.new(field: "track", value: place["track"], allowed: "a track of this show") unless show.tracks.key?(place["track"])

          holds = file[:holds]
          unless place["channel"].between?(1, holds["channels"])
            raise BadInput.new(field: "channel", value: place["channel"], allowed: "1 to #{holds["channels"]} of #{file[:title]}")
          end
          return if convert || holds["sample_rate_hz"] == show.sample_rate_hz

          raise BadInput.new(field: file[:title], value: "#{holds["sample_rate_hz"]} Hz", allowed: "files at the show's #{show.sample_rate_hz} Hz; have it converted, or leave it out")
        end
      end
    end
  end
end

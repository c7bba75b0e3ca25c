# frozen_string_literal: true

require "fileutils"
require "securerandom"

module Loomshuttle
  module Server
    module Actions
      # Takes in a folder of WAV files made elsewhere: each file is copied to a waiting
      # place, checked, and matched to a track by its name; what did not match is settled
      # by hand, and only then does it become a take. Files are kept bit for bit.
      class Import
        # A night of one stereo pair fits; a stream without end does not.
        FILE_BYTES_MAX = 16 * 1024**3
        # What each file was called before it got a safe name, beside the files.
        TITLES = ".titles.json"
        private_constant :TITLES

        def initialize(context)
          @context = context
        end

        # @return [String] the waiting place's id
        def open
          id = SecureRandom.hex(8)
          FileUtils.mkdir_p(folder(id, fresh: true))
          id
        end

        # @param io [IO] the file's bytes
        # @return [Hash] what the file holds, `file` being its safe name
        # @raise [BadInput] for a file that cannot be read; it is not kept
        def add(id, name, io, length)
          raise BadInput.new(field: "length", value: length, allowed: "at most #{FILE_BYTES_MAX} bytes") if length.to_i > FILE_BYTES_MAX

          stored = Loomshuttle::Capture::FileName.imported(name, names(id))
          path = File.join(folder(id), stored)
          File.open(path, "wb") { |file| IO.copy_stream(io, file, FILE_BYTES_MAX) }
          inspect_file(path).tap { File.write(File.join(folder(id), TITLES), JSON.generate(titles(id).merge(stored => name.scrub("?")))) }
        rescue BadInput
          File.delete(path) if path && File.exist?(path)
          raise
        end

        # @return [Hash] files, matched, loose, unfilled, tracks
        def plan(id)
          show = @context.kept.show
          called = titles(id)
          files = names(id).map { |name| inspect_file(File.join(folder(id), name)).merge(title: called.fetch(name, name)) }
          {id: id,
           files: files,
           tracks: show.tracks.values.map { |track| {id: track.id, name: track.name} },
           rate_faults: files.reject { |file| file[:sample_rate_hz] == show.sample_rate_hz }.map { |file| file[:file] },
           **Soundcheck::Matching.match(show.tracks.values, files.map { |file| {name: file[:file], title: file[:title], channels: file[:channels]} })}
        end

        # @param places [Array<Hash>] {file:, channel:, track:}; what is left out stays out
        # @return [Integer] id of the take
        # @raise [BadInput]
        def accept(id, name, places)
          show = @context.kept.show
          files = check_places(id, show, places)
          number = @context.takes.next_number(@context.show_id)
          target = Loomshuttle::Capture::FileName.take(Loomshuttle::Capture::FileName.folder(show.name), number)
          take = {show_id: @context.show_id,
                  uid: SecureRandom.uuid,
                  number: number,
                  folder: target,
                  name: name.empty? ? "Take #{number}" : name,
                  origin: "imported",
                  sample_rate_hz: show.sample_rate_hz,
                  frames: files.values.map { |file| file[:frames] }.max,
                  state: "closed"}
          move(id, target, take, places)
        end

        private

        # The database row and the folder come into being together or not at all.
        def move(id, target, take, places)
          full = File.join(@context.data_folder, "takes", target)
          FileUtils.mkdir_p(File.dirname(full))
          called = titles(id)
          take_id = @context.takes.create(take, places.map { |place|
            {track: place["track"],
             file: place["file"],
             channel: place["channel"],
             frames: inspect_file(File.join(folder(id), place["file"]))[:frames],
             name: called.fetch(place["file"], place["file"])}
          })
          File.rename(folder(id), full)
          @context.hub.publish("takes", id: take_id)
          take_id
        rescue SystemCallError => e
          @context.takes.delete(take_id) if take_id
          raise BadInput.new(field: "import", value: e.message, allowed: "a disk that takes the files; nothing was changed")
        end

        def check_places(id, show, places)
          files = places.map { |place| place["file"] }.uniq.to_h { |file| [file, known_file(id, file)] }
          raise BadInput.new(field: "places", value: 0, allowed: "at least one file on a track") if files.empty?

          places.each { |place| check_place(show, files, place) }
          twice = places.map { |place| place["track"] }.tally.find { |_, count| count > 1 }
          raise BadInput.new(field: "track", value: twice.first, allowed: "one file channel a track") if twice

          files
        end

        def check_place(show, files, place)
          raise BadInput.new(field: "track", value: place["track"], allowed: "a track of this show") unless show.tracks.key?(place["track"])

          file = files[place["file"]]
          unless place["channel"].between?(1, file[:channels])
            raise BadInput.new(field: "channel", value: place["channel"], allowed: "1 to #{file[:channels]} of #{place["file"]}")
          end
          return if file[:sample_rate_hz] == show.sample_rate_hz

          raise BadInput.new(field: place["file"],
            value: "#{file[:sample_rate_hz]} Hz",
            allowed: "files at the show's #{show.sample_rate_hz} Hz; convert it first, or leave it out")
        end

        def known_file(id, name)
          raise BadInput.new(field: "file", value: name, allowed: "a file of this import") unless names(id).include?(name)

          inspect_file(File.join(folder(id), name))
        end

        def names(id) = Dir.children(folder(id)).reject { |name| name.start_with?(".") }.sort

        def titles(id)
          JSON.parse(File.read(File.join(folder(id), TITLES)))
        rescue Errno::ENOENT
          {}
        end

        def inspect_file(path)
          File.open(path, "rb") do |io|
            reader = Audio::Wav::Reader.new(io)
            raise BadInput.new(field: File.basename(path), value: "0 frames", allowed: "a file that holds samples") if reader.frames == 0

            {file: File.basename(path), encoding: reader.format.encoding, bits: reader.format.bits, channels: reader.format.channels,
             sample_rate_hz: reader.format.sample_rate_hz, frames: reader.frames, warnings: reader.warnings}
          end
        rescue Audio::Wav::Malformed => e
          raise BadInput.new(field: File.basename(path), value: e.value, allowed: e.allowed)
        end

        def folder(id, fresh: false)
          raise BadInput.new(field: "import", value: id, allowed: "an import that is open") unless id.match?(/\A\h{16}\z/)

          path = File.join(@context.data_folder, "import", id)
          raise BadInput.new(field: "import", value: id, allowed: "an import that is open") unless fresh || Dir.exist?(path)

          path
        end
      end
    end
  end
end

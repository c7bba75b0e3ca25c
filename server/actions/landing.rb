# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Server
    module Actions
      # Files on their way in: a browser brings them in parts, each of which may be sent again, or they lie in a
      # folder of this machine. Each is looked at when it is whole.
      class Landing
        FILES_MAX = 4_000
        # As much as comes in one request.
        PART_BYTES_MAX = 16 * 1024**2
        ARCHIVE = /\.zip\z/i
        # What a take, and what a song of the library, is made of; a list goes with a take.
        OF_TAKE = Regexp.union(/\.(wav|wave|bwf|rf64)\z/i, Exchange::SentList::ENDINGS)
        OF_SONG = /\.(wav|wave|bwf|rf64|aif|aiff|aifc|flac|mp3|m4a|aac|opus|ogg)\z/i
        LIST_BYTES_MAX = 4 * 1024**2
        private_constant :FILES_MAX, :ARCHIVE, :OF_TAKE, :OF_SONG, :LIST_BYTES_MAX

        # @param imports [Store::Imports]
        # @param tasks [Store::Tasks]
        # @param folders [SourceFolders] of this machine
        # @param data_folder [String]
        # @param show_file [Exchange::ShowFile] for lists that are sent as one
        def initialize(imports:, tasks:, folders:, data_folder:, show_file:)
          @imports, @tasks, @folders, @data_folder, @show_file = imports, tasks, folders, data_folder, show_file
        end

        # @param show_id [Integer, nil] nil for the library
        # @param files [Array<Hash>] {"name", "bytes"} that a browser will bring
        # @param room_bytes [Integer, nil] on the disk; nil where nobody knows
        # @return [Integer] id
        # @raise [BadInput]
        def open(show_id, files, room_bytes)
          refuse_count(files.size)
          bytes = files.sum { |file| file["bytes"] }
          if room_bytes && bytes > room_bytes
            raise BadInput.new(field: "files", value: "#{bytes / 1_000_000} MB", allowed: "what the disk has room for, #{room_bytes / 1_000_000} MB")
          end

          @imports.open(show_id, files.map.with_index(1) { |file, number| {title: file["name"].scrub("?"), path: number.to_s, bytes: file["bytes"]} })
        end

        # @param path [String] a folder of this machine
        # @return [Integer] id; a task looks at its files
        # @raise [BadInput]
        def open_folder(show_id, path)
          source = @folders.real(path)
          names = Dir.children(source).grep(Regexp.union(wanted(show_id), ARCHIVE)).select { |name| File.file?(File.join(source, name)) }.sort
          refuse_count(names.count { |name| !name.match?(Exchange::SentList::ENDINGS) })
          files = names.map { |name| {title: name.scrub("?"), path: name, bytes: File.size(File.join(source, name))} }
          id = @imports.open(show_id, files, source: source)
          @imports.task(id, @tasks.begin("import_look", "Looking at #{names.size} files in #{File.basename(source)}", show_id: show_id, import: id))
          id
        end

        # One part of a file; it may be sent again, and goes on where the last one ended.
        #
        # @param from [Integer] byte at which it begins
        # @param io [IO]
        # @return [Hash] landed, and holds or fault of a file that is whole
        # @raise [BadInput]
        def part(show_id, id, number, from, io)
          import, file = @imports.find(show_id, id), @imports.file(id, number)
          raise BadInput.new(field: "from", value: from, allowed: "#{file[:landed]}, where the last part ended") unless from == file[:landed]

          landed = from + write(Landing.path(@data_folder, import, file), from, io, file[:bytes] - from)
          @imports.landed(id, number, landed)
          {number: number, landed: landed, **((landed == file[:bytes]) ? whole(import, file) : {})}
        end

        # Nobody wants it: what landed is taken away, what runs is stopped.
        def leave(show_id, id)
          import = @imports.find(show_id, id)
          @tasks.stop(import[:task_id]) if import[:task_id]
          # What a job is at work on it takes away itself.
          forget(import) unless import[:state] == "making"
        end

        # What was left lying is taken away after a day, and what nobody knows of.
        def sweep
          @imports.left.each { |import| forget(import) }
          known = @imports.uids
          Dir.glob("*", base: File.join(@data_folder, "import")).each { |name| FileUtils.rm_rf(File.join(@data_folder, "import", name)) unless known.include?(name) }
        end

        # Writes down what a whole file holds, or why it cannot be taken. The list that came along names the files.
        #
        # @return [Hash] holds, or fault; nothing for a list
        def look(import, file)
          return list(import, file) if list?(import, file)

          holds = Landing.inspect(import, Landing.path(@data_folder, import, file), file[:title])
          @imports.looked_at(import[:id], file[:number], holds, nil)
          {holds: holds}
        rescue BadInput => e
          @imports.looked_at(import[:id], file[:number], nil, e.message)
          {fault: e.message}
        end

        # @return [Boolean] whether it holds files itself
        def self.archive?(file) = file[:title].match?(ARCHIVE)

        # Puts what is in an archive in its place, as far as it is `wanted`.
        #
        # @yield now and then, for whoever may break it off
        def unpack(import, file)
          folder = "#{file[:number]}-#{SecureRandom.hex(4)}"
          into = File.join(@data_folder, "import", import[:uid], folder)
          found = Files::Archive.unpack(Landing.path(@data_folder, import, file), into: into, wanted: wanted(import[:show_id]), title: file[:title], room_bytes: Runtime::Disk.free_bytes(@data_folder)) { yield }
          files = found.map { |one| {title: one[:title], path: "#{folder}/#{File.basename(one[:path])}", bytes: one[:bytes]} }
          FileUtils.rm_rf(into) unless @imports.replace(import[:id], file[:number], files)
        rescue BadInput => e
          FileUtils.rm_rf(into)
          @imports.looked_at(import[:id], file[:number], nil, e.message)
        end

        # @return [String] where a file of an import lies
        # @raise [BadInput] for one that leads outside
        def self.path(data_folder, import, file)
          # What came out of an archive lies in a folder of its own, here.
          return Runtime::Inside.path(import[:source], file[:path]) if import[:source] && !file[:path].include?("/")

          File.join(data_folder, "import", import[:uid], file[:path])
        end

        def path(import, file) = Landing.path(@data_folder, import, file)

        # A take's files are WAV, read by ourselves, damaged ones too; a song's are what ffmpeg reads.
        #
        # @return [Hash] what a file holds, plain
        # @raise [BadInput] for one that cannot be read
        def self.inspect(import, path, title) = import[:show_id] ? Import.inspect(path, title) : Files::Probe.of(path, title)

        private

        def wanted(show_id) = show_id ? OF_TAKE : OF_SONG
        def list?(import, file) = import[:show_id] && file[:title].match?(Exchange::SentList::ENDINGS)

        # One that is no list says so, beside the files.
        def list(import, file)
          path = Landing.path(@data_folder, import, file)
          raise BadInput.new(field: file[:title], value: "#{file[:bytes]} bytes", allowed: "a list of at most #{LIST_BYTES_MAX} bytes") if file[:bytes] > LIST_BYTES_MAX

          names = Exchange::SentList.read(file[:title], File.binread(path), @show_file)
          @imports.list(import[:id], {file: file[:number], title: file[:title], names: names})
          {}
        end

        # What is whole is looked at; archives when all is there, by the worker.
        def whole(import, file)
          found = Landing.archive?(file) ? {} : look(import, file)
          files = @imports.files(import[:id])
          if files.all? { |one| one[:landed] == one[:bytes] } && files.any? { |one| Landing.archive?(one) }
            @imports.task(import[:id], @tasks.begin("import_look", "Unpacking #{file[:title]}", show_id: import[:show_id], import: import[:id]))
          end
          found
        end

        def refuse_count(count)
          raise BadInput.new(field: "files", value: count, allowed: "1 to #{FILES_MAX} sound files") unless count.between?(1, FILES_MAX)
        end

        def write(path, from, io, left)
          FileUtils.mkdir_p(File.dirname(path), mode: 0o700)
          File.open(path, File::WRONLY | File::CREAT | File::BINARY, 0o640) do |file|
            file.seek(from)
            IO.copy_stream(io, file, [left, PART_BYTES_MAX].min)
          end
        end

        def forget(import)
          @imports.delete(import[:id])
          FileUtils.rm_rf(File.join(@data_folder, "import", import[:uid]))
        end
      end
    end
  end
end

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
        private_constant :FILES_MAX

        # @param imports [Store::Imports]
        # @param tasks [Store::Tasks]
        # @param folders [SourceFolders] of this machine
        # @param data_folder [String]
        def initialize(imports:, tasks:, folders:, data_folder:)
          @imports, @tasks, @folders, @data_folder = imports, tasks, folders, data_folder
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
        # @param endings [Regexp] of the files that are meant
        # @return [Integer] id; a task looks at its files
        # @raise [BadInput]
        def open_folder(show_id, path, endings)
          source = @folders.real(path)
          names = Dir.children(source).grep(endings).select { |name| File.file?(File.join(source, name)) }.sort
          refuse_count(names.size)
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
          {number: number, landed: landed, **((landed == file[:bytes]) ? look(import, file) : {})}
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

        # Writes down what a whole file holds, or why it cannot be taken.
        #
        # @return [Hash] holds, or fault
        def look(import, file)
          holds = Landing.inspect(import, Landing.path(@data_folder, import, file), file[:title])
          @imports.looked_at(import[:id], file[:number], holds, nil)
          {holds: holds}
        rescue BadInput => e
          @imports.looked_at(import[:id], file[:number], nil, e.message)
          {fault: e.message}
        end

        # @return [String] where a file of an import lies
        # @raise [BadInput] for one that leads outside
        def self.path(data_folder, import, file)
          return Runtime::Inside.path(import[:source], file[:path]) if import[:source]

          File.join(data_folder, "import", import[:uid], file[:path])
        end

        # A take's files are WAV, read by ourselves, damaged ones too; a song's are what ffmpeg reads.
        #
        # @return [Hash] what a file holds, plain
        # @raise [BadInput] for one that cannot be read
        def self.inspect(import, path, title) = import[:show_id] ? Import.inspect(path, title) : Files::Probe.of(path, title)

        private

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

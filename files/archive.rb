# frozen_string_literal: true

require "fileutils"
require "zip"

module Loomshuttle
  module Files
    # The sound files, and the lists beside them, that somebody sent in a ZIP archive. What its entries are called is
    # never a path here; what an entry says of its size is held against what comes out of it.
    #
    #   Archive.unpack("from them.zip", into: "data/import/5/1", wanted: /\.wav\z/i, room_bytes: 10**9)
    #     # => [{title: "01 Kick.wav", path: "data/import/5/1/1", bytes: 1234}, ...]
    module Archive
      ENTRIES_MAX = 4_000
      PIECE_BYTES = 1024**2
      private_constant :ENTRIES_MAX, :PIECE_BYTES

      module_function

      # @param into [String] a folder, made if need be; files in it are numbered
      # @param wanted [Regexp] of the entries' names; whatever else is in there stays out
      # @param room_bytes [Integer, nil] on the disk
      # @yield now and then, for whoever may break it off
      # @return [Array<Hash>] title, path, bytes
      # @raise [BadInput]
      def unpack(path, into:, wanted:, room_bytes:, title: File.basename(path))
        Zip::File.open(path) do |zip|
          entries = wanted_of(zip, wanted)
          refuse(title, entries, room_bytes)
          FileUtils.mkdir_p(into, mode: 0o700)
          entries.map.with_index(1) do |(entry, name), number|
            target = File.join(into, number.to_s)
            {title: name, path: target, bytes: copy(entry, target) { yield if block_given? }}
          end
        end
      rescue Zip::Error, Zlib::Error, SystemCallError, IOError => e
        raise BadInput.new(field: title, value: e.message.lines.first.to_s.strip[0, 200], allowed: "a ZIP archive that is whole and has no password")
      end

      # What an operating system puts beside the files is no part of them.
      def wanted_of(zip, wanted)
        files = zip.entries.select { |entry| entry.file? && !entry.name.b.start_with?("__MACOSX") }
        named = files.map { |entry| [entry, File.basename(entry.name.dup.force_encoding("UTF-8").scrub("?").tr("\\", "/"))] }
        named.select { |_, name| name.match?(wanted) && !name.start_with?(".") }.sort_by(&:last)
      end

      def refuse(title, entries, room_bytes)
        raise BadInput.new(field: title, value: "#{entries.size} files", allowed: "1 to #{ENTRIES_MAX} sound files in it") unless entries.size.between?(1, ENTRIES_MAX)
        raise BadInput.new(field: title, value: "a file with a password", allowed: "files without one") if entries.any? { |entry, _| entry.encrypted? }

        bytes = entries.sum { |entry, _| entry.size }
        return unless room_bytes && bytes > room_bytes

        raise BadInput.new(field: title, value: "#{bytes / 1_000_000} MB", allowed: "what the disk has room for, #{room_bytes / 1_000_000} MB")
      end

      # @return [Integer] bytes
      # @raise [Zip::EntrySizeError] when more comes out than it says
      def copy(entry, target)
        File.open(target, "wb", 0o640) do |file|
          entry.get_input_stream do |stream|
            while (piece = stream.read(PIECE_BYTES))
              file.write(piece)
              raise Zip::EntrySizeError, "#{entry.name} holds more than the #{entry.size} bytes that it says" if file.pos > entry.size

              yield
            end
          end
          file.pos
        end
      end
      private_class_method :wanted_of, :refuse, :copy
    end
  end
end

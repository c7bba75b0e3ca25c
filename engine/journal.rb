# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Engine
    # The description of a take beside its files: one JSON line an event, only ever added to, so
    # that it is whole up to its last line whatever happens. `Capture::TakeLog` reads it.
    #
    # Whoever writes it holds it: what another engine, or somebody at the command line, would mend is then left alone.
    #
    # Room for its last words is kept in reserve: on a full disk the reserve is given up for
    # them, so that a take that ends there says so.
    class Journal
      NAME = "take.journal"
      # What version 1 wrote.
      NAME_1 = "take.json"
      RESERVE = "take.reserve"
      RESERVE_BYTES = 256 * 1024
      private_constant :RESERVE, :RESERVE_BYTES

      # @param folder [String] that exists
      def initialize(folder)
        @folder = folder
        @lock = Mutex.new
        @file = File.open(File.join(folder, NAME), File::WRONLY | File::CREAT | File::APPEND | File::BINARY, 0o640)
        @file.sync = true
        Runtime::Held.hold(@file)
        # Behind half a line, as a power cut leaves it, a new one begins.
        @file.write("\n") if torn?
        reserve
      end

      # @param what [String] one of TakeLog::KINDS
      # @raise [SystemCallError] when the disk takes not even this
      def add(what, **facts)
        line = JSON.generate(what: what, **facts) + "\n"
        @lock.synchronize { write(line) }
      end

      def sync = @lock.synchronize { @file.fdatasync unless @file.closed? }

      def close
        leave
        FileUtils.rm_f(File.join(@folder, RESERVE))
      end

      # Somebody else writes on.
      def leave
        @lock.synchronize do
          @file.fdatasync
          @file.close
        end
      end

      # @return [Boolean] whether the take in that folder is being written
      def self.written?(folder) = Runtime::Held.held?(File.join(folder, NAME))

      # @return [Capture::TakeLog, nil] nil where there is none that can be read
      def self.read(folder)
        path = File.join(folder, NAME)
        return Capture::TakeLog.read(File.read(path, encoding: "UTF-8")) if File.file?(path)

        lines_of_version_1(folder)&.then { |lines| Capture::TakeLog.read(lines) }
      rescue SystemCallError, JSON::ParserError
        nil
      end

      # Writes what version 1 says as a journal, so that it can be gone on with.
      def self.take_over_version_1(folder)
        path = File.join(folder, NAME)
        lines = lines_of_version_1(folder) unless File.exist?(path)
        File.write(path, lines) if lines
      end

      def self.lines_of_version_1(folder)
        Capture::TakeLog.lines_of_version_1(JSON.parse(File.read(File.join(folder, NAME_1), encoding: "UTF-8")))
      end
      private_class_method :lines_of_version_1

      # @return [Array<String>] folders of takes below a folder
      def self.folders(takes_folder)
        Dir.glob("**/{#{NAME},#{NAME_1}}", base: takes_folder).map { |path| File.join(takes_folder, File.dirname(path)) }.uniq.sort
      end

      private

      def write(line)
        @file.write(line)
      rescue Errno::ENOSPC, Errno::EDQUOT
        raise unless give_up_reserve

        # What came of the line before is cut off by a line end of its own.
        @file.write("\n" + line)
      end

      def torn?
        size = File.size(File.join(@folder, NAME))
        size > 0 && File.binread(File.join(@folder, NAME), 1, size - 1) != "\n"
      end

      # Real bytes, not a hole: a hole keeps no room.
      def reserve
        path = File.join(@folder, RESERVE)
        File.binwrite(path, "\0" * RESERVE_BYTES) unless File.exist?(path)
      end

      def give_up_reserve
        path = File.join(@folder, RESERVE)
        File.exist?(path) && File.truncate(path, 0) && File.delete(path)
      rescue SystemCallError
        false
      end
    end
  end
end

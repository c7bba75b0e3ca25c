# frozen_string_literal: true

module Loomshuttle
  module Cli
    # A folder of recordings, whether our journal lies in it or only files of somebody else's:
    # what is whole, what is not, and making whole what a recorder that was cut off left.
    class TakeFolder
      ENDINGS = /\.(wav|wave|bwf|rf64)\z/i
      private_constant :ENDINGS

      # @param folder [String]
      # @raise [BadInput] where no recording lies
      def initialize(folder)
        raise BadInput.new(field: "folder", value: folder, allowed: "a folder with recordings") unless File.directory?(folder)

        @folder = folder
        raise BadInput.new(field: "folder", value: folder, allowed: "a folder with WAV files in it") if paths.empty?
      end

      # @return [Array<Hash>] file, fine, faults; or file, error for one that is no recording
      def verify = paths.map { |path| report(path) { |io| {faults: faults(io, path)} } }

      # Makes headers fit; a file that is whole stays as it is to the byte.
      #
      # @return [Array<Hash>] file, frames, mended; or file, error
      # @raise [BadInput] while an engine writes them: it would go on behind what was cut off
      def recover
        raise BadInput.new(field: "folder", value: @folder, allowed: "a take that is over; this one is being recorded") if written?

        paths.map do |path|
          report(path, "r+b") do |io|
            mend = Audio::Wav::Mend.new(io)
            needed = mend.needed?
            {faults: [], frames: needed ? mend.call : mend.frames_there, mended: needed}
          end
        end
      end

      # @return [Array<String>] its WAV files by name
      def paths = @paths ||= Dir.children(@folder).grep(ENDINGS).sort.map { |name| File.join(@folder, name) }

      # @return [Array<Hash>] of each file that can be read name, channels and what it calls them, as Soundcheck::Matching takes them
      # @raise [BadInput] for one that is no recording
      def channels
        paths.map do |path|
          File.open(path, "rb") { |io| Audio::Wav::Reader.new(io).then { |reader| {name: File.basename(path), channels: reader.format.channels, names: reader.track_names} } }
        rescue BadInput => e
          raise BadInput.new(field: path, value: e.value, allowed: e.allowed)
        end
      end

      private

      def report(path, mode = "rb")
        found = File.open(path, mode) { |io| yield io }
        {file: path, fine: found[:faults].empty?, **found}
      rescue BadInput, SystemCallError => e
        {file: path, error: e.message}
      end

      # What the journal says of a file is compared too, where there is one.
      def faults(io, path)
        stretch = log&.stretches&.find { |one| one.file == File.basename(path) }
        return ["it is still being recorded"] if stretch&.open? && written?

        stretch = nil if stretch&.open?
        Capture::Verification.of(io, frames: stretch&.frames, sample_rate_hz: stretch && log.plan.sample_rate_hz, crc32: stretch&.crc32)
      end

      def log = @log ||= File.file?(journal) ? Capture::TakeLog.read(File.read(journal, encoding: "UTF-8")) : nil
      def journal = File.join(@folder, "take.journal")
      # An engine holds the journal of a take that it writes.
      def written? = Runtime::Held.held?(journal)
    end
  end
end

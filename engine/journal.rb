# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Engine
    # The description of a take beside its files (take.json), written so that it is always
    # whole: the disk alone is enough to know what a take holds.
    module Journal
      NAME = "take.json"

      module_function

      def write(folder, data)
        path = File.join(folder, NAME)
        File.open("#{path}.new", "w") do |file|
          file.write(JSON.pretty_generate(data))
          file.fdatasync
        end
        File.rename("#{path}.new", path)
      end

      # @return [Hash, nil] string keys; nil where there is none or it is broken
      def read(folder)
        JSON.parse(File.read(File.join(folder, NAME)))
      rescue SystemCallError, JSON::ParserError
        nil
      end

      # Finishes takes that a crash or a power cut left open: each file's header is made to
      # fit what is on disk.
      #
      # @return [Array<String>] folders that were finished
      def recover(takes_folder)
        Dir[File.join(takes_folder, "**", NAME)].map { |path| File.dirname(path) }
          .select { |folder| read(folder)&.fetch("state", nil) == "recording" }
          .each { |folder| finish(folder, read(folder)) }
      end

      def finish(folder, data)
        frames = data["files"].map { |file| TakeFile.repair(File.join(folder, file["file"]), file, data) }
        write(folder, data.merge("state" => "closed",
          "reason" => "recovered after the engine ended without closing it",
          "frames" => frames.min || 0))
      end
      private_class_method :finish
    end
  end
end

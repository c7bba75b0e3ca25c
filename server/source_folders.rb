# frozen_string_literal: true

module Loomshuttle
  module Server
    # Folders of this machine that recordings and songs may be brought in from: mounted disks, and whatever
    # whoever set this machine up allows (LOOMSHUTTLE_SOURCES). No other path from outside is read.
    class SourceFolders
      MOUNTED = %r{\A(/media|/mnt|/run/media)/}
      SHOWN = 500
      private_constant :MOUNTED, :SHOWN

      # @param more [Array<String>]
      def initialize(more: [], mounts: -> { File.read("/proc/mounts") })
        @more = more
        @mounts = mounts
      end

      # @return [Array<String>]
      def roots
        mounted = @mounts.call.lines.map { |line| line.split[1].to_s.gsub('\040', " ") }.grep(MOUNTED)
        (@more + mounted).uniq.select { |path| File.directory?(path) }.map { |path| File.realpath(path) }
      rescue SystemCallError
        @more
      end

      # @param path [String, nil] nil lists the roots
      # @return [Hash] path, up, folders: [{path, name}], files: how many it holds
      # @raise [BadInput]
      def list(path)
        return {path: nil, up: nil, folders: roots.map { |root| {path: root, name: root} }, files: 0} if path.to_s.empty?

        real = real(path)
        folders, files = Dir.children(real).reject { |name| name.start_with?(".") }.sort.partition { |name| File.directory?(File.join(real, name)) }
        {path: real, up: roots.include?(real) ? "" : File.dirname(real), folders: folders.first(SHOWN).map { |name| {path: File.join(real, name), name: name.scrub("?")} }, files: files.size}
      rescue SystemCallError => e
        raise BadInput.new(field: "folder", value: path, allowed: "a folder that can be read (#{e.message})")
      end

      # @return [String] the folder itself, links followed
      # @raise [BadInput] for one outside of the roots
      def real(path)
        full = File.realpath(path.to_s)
        return full if File.directory?(full) && roots.any? { |root| full == root || full.start_with?("#{root}/") }

        raise BadInput.new(field: "folder", value: path, allowed: roots.empty? ? "none: no disk is mounted, and LOOMSHUTTLE_SOURCES names no folder" : "a folder in #{roots.join(", ")}")
      rescue SystemCallError, ArgumentError
        raise BadInput.new(field: "folder", value: path, allowed: "a folder that is there")
      end
    end
  end
end

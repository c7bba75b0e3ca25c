# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Where takes may be written: below the data folder, and for a second copy on other disks
    # of this machine, always in a folder of our own there. No path from outside is taken as it
    # is: a copy is asked for by the place's own path out of this list.
    class Places
      FOLDER = "loomshuttle-takes"
      MOUNTED = %r{\A(/media|/mnt|/run/media)/}
      private_constant :FOLDER, :MOUNTED

      # @param takes_folder [String]
      # @param more [Array<String>] folders that whoever set this machine up allows
      def initialize(takes_folder, more: [], mounts: -> { File.read("/proc/mounts") })
        @takes_folder = takes_folder
        @more = more
        @mounts = mounts
      end

      # @return [Array<Hash>] path, free_bytes, own_disk: whether one fault does not take both
      def list
        roots.map { |root| {path: root, free_bytes: Runtime::Disk.free_bytes(root), own_disk: !Runtime::Disk.same?(root, @takes_folder)} }
      end

      # @return [String] the folder for copies at a place of the list, made if need be
      # @raise [BadInput, SystemCallError]
      def copies(path)
        raise BadInput.new(field: "copy", value: path, allowed: "one of #{roots.join(", ")}") unless roots.include?(path)

        File.join(path, FOLDER).tap { |folder| FileUtils.mkdir_p(folder) }
      end

      private

      def roots
        mounted = @mounts.call.lines.map { |line| line.split[1].to_s.gsub('\040', " ") }.grep(MOUNTED)
        (@more + mounted).uniq.select { |path| File.directory?(path) && File.writable?(path) }
      rescue SystemCallError
        @more
      end
    end
  end
end

# frozen_string_literal: true

require "fileutils"
require "socket"

module Loomshuttle
  module Runtime
    # Unix sockets of any path. The kernel takes 107 bytes; a longer path is reached through
    # an open file descriptor of its folder.
    module SocketPath
      BYTES_MAX = 107
      private_constant :BYTES_MAX

      module_function

      # A server for its owner alone, mode 600: made closed to others, not closed afterwards.
      #
      # @param path [String] a socket that is left over from before is replaced
      # @return [UNIXServer]
      def listen(path)
        FileUtils.mkdir_p(File.dirname(path))
        FileUtils.rm_f(path)
        before = File.umask(0o177)
        short(path) { |short| UNIXServer.new(short) }
      ensure
        File.umask(before) if before
      end

      # @yield [String] a path that is short enough, good for as long as the block runs
      def short(path)
        return yield path if path.bytesize <= BYTES_MAX

        Dir.open(File.dirname(path)) { |folder| yield "/proc/self/fd/#{folder.fileno}/#{File.basename(path)}" }
      end
    end
  end
end

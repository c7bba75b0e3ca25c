# frozen_string_literal: true

module Loomshuttle
  module Runtime
    # Unix sockets of any path. The kernel takes 107 bytes; a longer path is reached through
    # an open file descriptor of its folder.
    module SocketPath
      BYTES_MAX = 107
      private_constant :BYTES_MAX

      module_function

      # @yield [String] a path that is short enough, good for as long as the block runs
      def short(path)
        return yield path if path.bytesize <= BYTES_MAX

        Dir.open(File.dirname(path)) { |folder| yield "/proc/self/fd/#{folder.fileno}/#{File.basename(path)}" }
      end
    end
  end
end

# frozen_string_literal: true

require "sys-filesystem"

module Loomshuttle
  module Runtime
    # What a folder's own file system says of itself.
    module Disk
      module_function

      # @return [Integer, nil] bytes that may still be written there; nil where nobody can say
      def free_bytes(folder)
        Sys::Filesystem.stat(folder).bytes_available
      rescue Sys::Filesystem::Error, SystemCallError
        nil
      end

      # @return [Boolean] whether two folders lie on one disk, so that one fault takes both
      def same?(one, other) = File.stat(one).dev == File.stat(other).dev
    end
  end
end

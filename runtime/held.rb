# frozen_string_literal: true

module Loomshuttle
  module Runtime
    # Whether a process writes a file that others might mend or take over (flock(2)). The system lets go of it
    # when the process ends, however it ends; who only reads is not kept from it.
    #
    #   Held.hold(journal)             # as long as that file is open; any number may
    #   Held.held?("take.journal")     # => true
    module Held
      module_function

      # @param file [File]
      def hold(file)
        file.flock(File::LOCK_SH)
      rescue SystemCallError
        # A file system that knows no locks, as some in a network: then nobody can tell.
        nil
      end

      # @param path [String]
      def held?(path)
        File.open(path, "rb") { |file| !file.flock(File::LOCK_EX | File::LOCK_NB) }
      rescue SystemCallError
        false
      end
    end
  end
end

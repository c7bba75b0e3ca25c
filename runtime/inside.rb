# frozen_string_literal: true

module Loomshuttle
  module Runtime
    # Paths that come from outside never leave their folder.
    module Inside
      module_function

      # @param folder [String]
      # @param path [String] relative to it
      # @return [String] the whole path
      # @raise [BadInput] for one that lies outside, by its name or through a link
      def path(folder, path, field: "path")
        refuse(field, path) if path.to_s.include?("\0")
        root = File.realpath(folder)
        full = File.expand_path(path.to_s, root)
        refuse(field, path) unless full.start_with?("#{root}/")
        refuse(field, path) unless below?(root, nearest(full))
        full
      end

      # A link inside that leads outside is outside.
      def nearest(full)
        full = File.dirname(full) until File.exist?(full)
        File.realpath(full)
      end

      def below?(root, real) = real == root || real.start_with?("#{root}/")

      def refuse(field, path)
        raise BadInput.new(field: field, value: path, allowed: "a path inside its own folder")
      end
      private_class_method :nearest, :below?, :refuse
    end
  end
end

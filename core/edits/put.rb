# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets parts of a show to exactly what they were at another time, whatever edit changed
    # them since: what undo and redo apply.
    #
    #   Put.between(after, before).apply(after) == before
    Put = Edit.of("put", inside: true, parts: :parts, order: [:object, {}.freeze]) do
      # @return [Put] the edit that leads from one show to the other
      def self.between(from, to)
        changed = Show::Parts.changed(from, to)
        parts = changed.to_h { |name, keys| [name, keys.to_h { |key, (_, value)| [key, value && Show::Parts[name].encode(value)] }] }
        new(parts: parts, order: Show::Parts.moved(from, to))
      end

      def apply(show)
        plain = JSON.parse(JSON.generate(parts))
        known = show.profiles.merge(decoded("profiles", plain.fetch("profiles", {}), {})).compact
        Show::Parts.put(show, plain.to_h { |name, values| [name, decoded(name, values, known)] }, order)
      end

      private

      def decoded(name, values, profiles) = values.transform_values { |data| data.nil? ? nil : Show::Parts[name].decode(data, profiles) }
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets parts of a show to exactly what they were at another time, whatever edit changed
    # them since: the inverse of every edit that has no simpler one.
    #
    #   Put.between(after, before).apply(after) == before
    Put = Value.of(:parts, order: {}.freeze) do
      # @return [Put] the edit that leads from one show to the other
      def self.between(from, to)
        changed = Show::Parts.changed(from, to)
        parts = changed.to_h { |part, keys| [part, keys.to_h { |key, (_, value)| [key, Exchange::PartData.encode(part, value)] }] }
        new(parts: parts, order: (changed.keys & Show::Parts::ORDERED).to_h { |part| [part, Show::Parts.read(to, part).keys] })
      end

      def self.from_h(hash)
        parts = hash.fetch("parts")
        unknown = parts.keys - Show::Parts::NAMES
        raise BadInput.new(field: "edit.parts", value: unknown.first, allowed: Show::Parts::NAMES.join(", ")) if unknown.any?

        new(parts: parts, order: hash.fetch("order", {}))
      end

      def to_data = {kind: "put", parts: parts, order: order}

      def apply(show)
        plain = JSON.parse(JSON.generate(parts))
        known = show.profiles.merge(decoded("profiles", plain.fetch("profiles", {}), {})).compact
        Show::Parts.put(show, plain.to_h { |part, values| [part, decoded(part, values, known)] }, order)
      end

      def inverse(show) = Put.between(apply(show), show)

      private

      def decoded(part, values, profiles) = values.transform_values { |data| Exchange::PartData.decode(part, data, profiles) }
    end
  end
end

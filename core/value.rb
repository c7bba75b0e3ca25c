# frozen_string_literal: true

module Loomshuttle
  # Frozen values with keyword construction; changing one returns a copy.
  #
  #   Point = Value.of(:x, :y, y: 0)
  #   Point.new(x: 1).with(y: 2)   # => a new Point
  #
  # Members without a default are required: leaving one out raises ArgumentError.
  module Value
    def self.of(*members, **defaults, &body)
      members |= defaults.keys
      Struct.new(*members, keyword_init: true) do
        define_method(:initialize) do |**given|
          missing = members - given.keys - defaults.keys
          raise ArgumentError, "missing #{missing.join(", ")}" if missing.any?

          super(**defaults, **given)
          freeze
        end

        def with(**changes) = self.class.new(**to_h, **changes)

        class_eval(&body) if body
      end
    end
  end
end

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
      required = members - defaults.keys
      Struct.new(*members, keyword_init: true) do
        define_method(:initialize) do |**given|
          missing = required.reject { |member| given.key?(member) }
          raise ArgumentError, "missing #{missing.join(", ")}" if missing.any?

          super(**defaults, **given)
          freeze
        end

        def with(**changes) = self.class.new(**to_h, **changes)

        class_eval(&body) if body
      end
    end

    # For values that things are computed from: each is computed once a value, and a frozen
    # value never disagrees with what was computed.
    module Memo
      def initialize(**)
        @memo = {}
        super
      end

      # @param key [Object] names what is computed
      def once(key)
        known = @memo[key]
        return known if known || @memo.key?(key)

        @memo[key] = yield
      end
    end
  end
end

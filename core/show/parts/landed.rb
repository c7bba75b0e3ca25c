# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # Where mixes are meant to leave.
      class Landed < Part
        def subject(show, key, _value) = "Where #{show.label(key)} leaves"
        def mentions(value) = value

        # A mix with one of its sockets gone is still meant for the others.
        def without(key, value)
          return nil if yield key

          left = value.reject { |socket| yield socket }
          left.empty? ? nil : left.freeze
        end
      end
    end
  end
end

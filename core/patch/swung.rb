# frozen_string_literal: true

module Loomshuttle
  module Patch
    # What a swing remembers so that it can be turned back: each slot that it changed with
    # what the slot took before (nil: nothing), the blocks it opened, and the channels that
    # stay on the stage on purpose, and what it switched over to a second set.
    Swung = Value.of(home: {}.freeze, opened: [].freeze, keep: [].freeze, turned: [].freeze) do
      def swung? = home.any? || turned.any?
    end
  end
end

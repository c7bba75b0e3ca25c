# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What a swing remembers so that it can be turned back: each slot that it changed with
    # what the slot took before (nil: nothing), the blocks it opened, and the channels that
    # stay on the stage on purpose.
    State = Value.of(home: {}.freeze, opened: [].freeze, keep: [].freeze) do
      def swung? = !home.empty?
    end
  end
end

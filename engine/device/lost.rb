# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      # The device went away, or was never there.
      class Lost < StandardError; end
    end
  end
end

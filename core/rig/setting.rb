# frozen_string_literal: true

module Loomshuttle
  module Rig
    # A number that can be set on a device, and may be set wrong: the output offset of a
    # box in a chain.
    Setting = Value.of(:name, :label, :choices, :default)
  end
end

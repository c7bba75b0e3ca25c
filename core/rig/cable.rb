# frozen_string_literal: true

module Loomshuttle
  module Rig
    # A many-lane cable between two ports, each written "device/port". Lane n at `a` meets
    # lane n + offset_a_to_b at `b`, and the other way with offset_b_to_a: the places that
    # a box's rank in its chain gives it.
    Cable = Value.of(:a, :b, :kind, :length_m, offset_a_to_b: 0, offset_b_to_a: 0) do
      def ends = [a, b]
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Rig
    # A many-lane cable between two ports, each written "device/port". Lane n at `a` meets
    # lane n + offset_a_to_b at `b`, and the other way with offset_b_to_a: where a loom of
    # single lines is plugged in. Places in a chain of boxes are the boxes' own wires.
    #
    # lanes  how many lines the cable has; nil for all that its ports carry
    Cable = Value.of(:a, :b, :kind, :length_m, offset_a_to_b: 0, offset_b_to_a: 0, lanes: nil) do
      def ends = [a, b]
      def id = "#{a}~#{b}"
      def other_end(port) = (port == a) ? b : a
    end
  end
end

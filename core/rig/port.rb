# frozen_string_literal: true

module Loomshuttle
  module Rig
    # A socket for a many-lane cable. `lanes_in` and `lanes_out` name the families that
    # the cable fills and empties; `lanes` says how many lanes each way the link carries
    # at each sample-rate family (48 stands for 44.1/48 kHz, 96 for 88.2/96 kHz).
    Port = Value.of(:name, :standard, :lanes_in, :lanes_out, :lanes) do
      def lanes_at(rate_hz) = lanes.fetch((rate_hz > 50_000) ? 96 : 48, 0)
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      # What a device port carries: interleaved little-endian 32-bit frames, in blocks.
      #
      # Every device answers the same five methods (spec/support/device_contract.rb is the
      # executable form):
      #
      #   open                => Format; raises Lost when nobody is there
      #   read(buffer)        => buffer filled with one block; raises Lost
      #   write(bytes)        => one block to the device; raises Lost
      #   close
      #   name
      Format = Value.of(:rate_hz, :lanes_in, :lanes_out, :block_frames) do
        def block_bytes_in = lanes_in * block_frames * 4
        def block_bytes_out = lanes_out * block_frames * 4
        def block_s = block_frames / rate_hz.to_f
      end
    end
  end
end

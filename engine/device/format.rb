# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      # What a device port carries: interleaved little-endian 32-bit frames, in blocks.
      #
      # Every device answers the same methods (spec/support/device_contract.rb is the
      # executable form):
      #
      #   open                  => Format; raises Lost when nobody is there
      #   read(buffer, wait_s)  => Integer, frames that were lost before this block; the buffer
      #                            then holds one block. nil when none came in that time; what
      #                            has come of it is kept. Raises Lost
      #   write(bytes)          => Integer, frames that were lost on the way out; raises Lost
      #   close                 from any thread, also twice; a read that waits ends as Lost
      #   name
      #
      # latency_in_frames, latency_out_frames  as the device says; nil where it does not
      Format = Value.of(:rate_hz, :lanes_in, :lanes_out, :block_frames, latency_in_frames: nil, latency_out_frames: nil) do
        def block_bytes_in = lanes_in * block_frames * 4
        def block_bytes_out = lanes_out * block_frames * 4
        def block_s = block_frames / rate_hz.to_f
      end
    end
  end
end

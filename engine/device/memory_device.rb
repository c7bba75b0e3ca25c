# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      # A device for specs: gives blocks from a list and keeps what is played.
      class MemoryDevice
        attr_reader :played

        # @param blocks [Array<Numo::Int32>] [frames, lanes]; when they end the device is lost
        def initialize(blocks, rate_hz: 48_000)
          @blocks = blocks.dup
          frames, lanes = blocks.first.shape
          @format = Format.new(rate_hz: rate_hz, lanes_in: lanes, lanes_out: lanes, block_frames: frames)
          @played = []
        end

        def name = "memory"
        def open = @format

        def read(buffer)
          block = @blocks.shift or raise Lost, "no more blocks"
          buffer.replace(block.to_binary)
        end

        def write(bytes) = @played << bytes
        def close = nil
      end
    end
  end
end

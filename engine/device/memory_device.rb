# frozen_string_literal: true

module Loomshuttle
  module Engine
    module Device
      # A device in memory, for specs: gives blocks from a list and keeps what is played. It may
      # have other lane counts out than in, lose frames, and hang.
      class MemoryDevice
        attr_reader :played

        # @param blocks [Array<Numo::Int32, Integer, :hang>] [frames, lanes]; a number is frames
        #   that are lost before the next block; when they end the device is lost
        # @param lanes_out [Integer, nil] as many as in
        def initialize(blocks, rate_hz: 48_000, lanes_out: nil)
          @blocks = blocks.dup
          frames, lanes = blocks.find { |block| block.is_a?(Numo::Int32) }.shape
          @format = Format.new(rate_hz: rate_hz, lanes_in: lanes, lanes_out: lanes_out || lanes, block_frames: frames)
          @played = []
          @closed = false
        end

        def name = "memory"

        def open
          @closed = false
          @format
        end

        def read(buffer, wait_s)
          lost = @blocks.first.is_a?(Integer) ? @blocks.shift : 0
          raise Lost, "closed" if @closed
          return hang(wait_s) if @blocks.first.is_a?(Symbol)

          block = @blocks.shift or raise Lost, "no more blocks"
          buffer.replace(block.to_binary)
          lost
        end

        def write(bytes)
          raise Lost, "closed" if @closed

          @played << bytes.dup
          0
        end

        def close = @closed = true

        private

        def hang(wait_s)
          sleep wait_s
          nil
        end
      end
    end
  end
end

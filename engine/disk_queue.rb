# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The seconds between the device and the disk: a ring of blocks made once, filled by the
    # block loop and emptied by the writer. A full ring refuses a block at once; the writer
    # later fills the hole with silence, so that tracks stay aligned.
    class DiskQueue
      attr_reader :lost_blocks

      # @param format [Device::Format]
      # @param seconds [Numeric] at least 2
      def initialize(format, seconds: 6)
        @frames = format.block_frames
        @lanes = format.lanes_in
        count = (seconds / format.block_s).ceil
        @free = Thread::Queue.new(Array.new(count) { Numo::UInt8.zeros(@lanes, @frames, 3) })
        @full = Thread::Queue.new
        @lost_blocks = 0
      end

      # @param bytes [String] one block from the wire, interleaved 32 bit
      # @param frame [Integer] its first frame within the take
      # @return [Boolean] false when the block is lost
      def push(bytes, frame)
        block = @free.pop(true)
        # The upper three of four bytes are the 24-bit sample; planar, so that a track's
        # samples lie side by side. No float on the way.
        wire = Numo::UInt8.from_binary(bytes, [@frames, @lanes, 4])
        block.store(wire[true, true, 1..3].transpose(1, 0, 2))
        @full << [frame, block]
        true
      rescue ThreadError
        @lost_blocks += 1
        false
      end

      def finish = @full << nil

      # @yield [frame, block] in order, until `finish`
      def each
        while (frame, block = @full.pop)
          yield frame, block
          @free << block
        end
      end

      def waiting = @full.size
    end
  end
end

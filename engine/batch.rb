# frozen_string_literal: true

module Loomshuttle
  module Engine
    # A few blocks of the capture ring that follow each other without a hole, cut to what of them
    # belongs to a take: written in one go, so that 32 files cost 32 writes and not 384.
    #
    #   batch = Batch.new([block, block], skip: 0, count: 2048)
    #   batch.lane(3)    # => [String, String], 24 bit
    class Batch
      # A quarter of a second at 48 kHz.
      BLOCKS = 12

      attr_reader :blocks, :frames

      # @param blocks [Array<Rings::CaptureRing::Block>]
      # @param skip [Integer] frames at the beginning that do not belong to it
      # @param count [Integer] frames that do
      def initialize(blocks, skip:, count:)
        @blocks = blocks
        @frames = count
        @cuts = cuts(skip, count)
        @lows, @highs = blocks.map { |block| block.extremes.to_a }.transpose
        @low, @high = @lows.transpose.map(&:min), @highs.transpose.map(&:max)
      end

      # @param lane [Integer] from 0
      # @return [Array<String>] its samples, 24 bit, a piece a block
      def lane(lane)
        @cuts.map { |block, from, count| block.lane(lane, from: from, count: count) }
      end

      # @return [Integer] highest magnitude, full scale 2^31
      def peak(lane) = [@high[lane], -@low[lane]].max

      # @return [Integer] blocks that touched full scale
      def clips(lane)
        return 0 if peak(lane) < StretchFile::CLIP

        @blocks.each_index.count { |at| @highs[at][lane] >= StretchFile::CLIP || -@lows[at][lane] >= StretchFile::CLIP }
      end

      # @yield [Block, Array<Integer>, Array<Integer>] each with the extremes of all lanes
      def each_with_extremes = @blocks.each_with_index { |block, at| yield block, @lows[at], @highs[at] }

      # Its blocks are no more; what was cut from them stays.
      def drop = @blocks.each(&:drop)

      private

      # @return [Array<Array(Block, Integer, Integer)>] which frames of each are taken
      def cuts(skip, count)
        @blocks.filter_map do |block|
          from = [skip, block.frames].min
          take = [block.frames - from, count].min
          skip -= from
          count -= take
          [block, from, take] if take > 0
        end
      end
    end
  end
end

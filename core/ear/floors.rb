# frozen_string_literal: true

module Loomshuttle
  module Ear
    # Each lane's own floor: how loud it is when nobody plays there. The fifth of its last seconds that is
    # quietest; a tap, or speech with its pauses, does not raise it, a fan or a hum that stays does.
    #
    #   floors = Floors.new(lanes: 32, blocks_per_s: 46.9)
    #   floors.add(square)      # of each block
    #   floors.mean_square      # => Numo::SFloat[32]
    class Floors
      KEPT_S = 5.0
      QUIETEST = 0.2
      # Before that nothing is known.
      READY_S = 0.4
      # So seldom is it worked out anew, however short the blocks are; it moves slowly.
      ANEW_S = 0.08
      # Under the last of 24 bits: digital silence has a floor too, or any sample were endlessly far over it.
      LOWEST = Audio::Scale.ratio(-144)**2
      private_constant :KEPT_S, :QUIETEST, :READY_S, :ANEW_S, :LOWEST

      # @param lanes [Integer]
      # @param blocks_per_s [Numeric]
      def initialize(lanes:, blocks_per_s:)
        @ready_blocks, @anew_blocks = [READY_S, ANEW_S].map { |seconds| (seconds * blocks_per_s).ceil }
        @kept = Numo::SFloat.zeros(lanes, (KEPT_S * blocks_per_s).ceil)
        @count = 0
      end

      # @param square [Numo::SFloat] [lanes], mean square of a block, full scale 1
      def add(square)
        @kept[true, @count % @kept.shape[1]] = square
        @count += 1
        @mean_square = nil if @count % @anew_blocks == 0
      end

      # It is known what a lane sounds like from now on when nobody plays.
      #
      # @param lane [Integer] from 0
      def settle(lane, mean_square)
        @kept[lane, true] = mean_square
        @mean_square = nil
      end

      def ready? = @count >= @ready_blocks

      # @return [Numo::SFloat] [lanes], mean square, full scale 1
      def mean_square = @mean_square ||= Numo::SFloat.maximum(known.sort(1)[true, (known_blocks * QUIETEST).floor], LOWEST)

      private

      def known_blocks = [@count, @kept.shape[1]].min
      def known = (@count < @kept.shape[1]) ? @kept[true, 0...@count] : @kept
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Deck
    # Peaks of the blocks that lie ready, each by its device frame, until it has sounded.
    #
    #   levels.add(480_000, [0.5, 0.1])
    #   levels.dbfs(480_100)   # => [-6.0, -20.0], a lane each
    class Levels
      def initialize
        @peaks = []
      end

      def add(frame, peaks) = @peaks << [frame, peaks]
      def size = @peaks.size
      def clear = @peaks.clear

      # What has sounded, but for what sounds now.
      def forget(frame)
        @peaks.shift while @peaks.size > 1 && @peaks[1].first <= frame
      end

      # What was rendered for a frame and behind it never sounds.
      def take_back(frame)
        @peaks.pop while @peaks.any? && @peaks.last.first >= frame
      end

      # @return [Array<Float>] dBFS of each lane in the block that sounds at a frame
      def dbfs(frame)
        forget(frame)
        from, peaks = @peaks.first
        (from && from <= frame) ? peaks.map { |peak| Audio::Scale.dbfs(peak).round(1) } : []
      end
    end
  end
end

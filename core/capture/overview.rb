# frozen_string_literal: true

module Loomshuttle
  module Capture
    # The waveform of a whole take as one file, for takes that come from elsewhere; the engine writes the same
    # form block by block (Engine::Overview), Picture reads both.
    module Overview
      # @param extremes [Array<Numo::Int16>] one a lane, [blocks, 2]: lowest and highest of each block
      # @param block_frames [Integer]
      # @return [String] rows of the block's frame and each lane's extremes; shorter lanes end in silence
      def self.of(extremes, block_frames: 1024)
        rows = extremes.map { |lane| lane.shape[0] }.max || 0
        table = Numo::Int16.zeros(rows, extremes.size, 2)
        extremes.each_with_index { |lane, at| table[0...lane.shape[0], at, true] = lane if lane.shape[0] > 0 }
        frames = Numo::Int64.new(rows).seq * block_frames
        bytes = Numo::UInt8.zeros(rows, 8 + extremes.size * 4)
        return "" if rows.zero?

        bytes[true, 0...8] = Numo::UInt8.from_binary(frames.to_binary, [rows, 8])
        bytes[true, 8..] = Numo::UInt8.from_binary(table.to_binary, [rows, extremes.size * 4])
        bytes.to_binary
      end
    end
  end
end

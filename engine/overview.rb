# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The take's waveform, built while it is recorded: for each block one row, its device frame
    # and for each lane of the plan the lowest and highest sample, 16 bit. `Capture::Picture`
    # reads it. It costs one small write for eight blocks.
    class Overview
      NAME = "take.overview"

      def initialize(folder, plan)
        @lanes = plan.tracks.flat_map(&:lanes).map { |lane| lane - 1 }
        @format = "q<#{"s<s<" * @lanes.size}"
        @file = File.open(File.join(folder, NAME), File::WRONLY | File::CREAT | File::APPEND | File::BINARY, 0o640)
        @file.sync = true
      end

      # @param batch [Batch]
      # @raise [SystemCallError]
      def add(batch)
        rows = []
        batch.each_with_extremes { |block, low, high| rows << row(block, low, high) }
        @file.write(*rows)
      end

      def close = @file.close

      private

      def row(block, low, high)
        values = [block.frame]
        @lanes.each { |lane| values << (low[lane].to_i >> 16) << (high[lane].to_i >> 16) }
        values.pack(@format)
      end
    end
  end
end

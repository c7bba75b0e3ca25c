# frozen_string_literal: true

module Loomshuttle
  module Render
    # A source made of several that lie one after the other, with silence between: a track of a
    # take, whose stretches are files of their own.
    #
    #   Pieced.new([[0, first], [96_000, second]])
    class Pieced
      attr_reader :frames, :channels

      # @param pieces [Array<Array(Integer, #read)>] where each begins, in frames
      def initialize(pieces)
        @pieces = pieces.sort_by(&:first)
        @frames = @pieces.map { |at, source| at + source.frames }.max || 0
        @channels = @pieces.map { |_, source| source.channels }.max || 1
      end

      # @return [Numo::SFloat] [channels, count], not to be written to
      def read(from, count)
        whole = whole(from, count)
        return whole.last.read(from - whole.first, count) if whole

        out = Numo::SFloat.zeros(@channels, count)
        @pieces.each do |at, source|
          first = [from - at, 0].max
          start = [at - from, 0].max
          length = [source.frames - first, count - start].min
          out[0...source.channels, start...(start + length)] = source.read(first, length) if length > 0
        end
        out
      end

      def close = @pieces.each { |_, source| source.close }

      private

      # Mostly all that is asked for lies in one piece: nothing is laid together then. Of pieces that overlap the later one holds.
      def whole(from, count)
        at, source = @pieces.reverse_each.find { |begins, _| begins < from + count }
        [at, source] if source && source.channels == @channels && at <= from && from + count <= at + source.frames
      end
    end
  end
end

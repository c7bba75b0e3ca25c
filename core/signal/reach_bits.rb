# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Which listeners every place reaches, for all places at once: a bit a listener, spread
    # back from the listeners along all joins until nothing changes. One pass serves every
    # question that is asked of the same show.
    class ReachBits
      # @param graph [Graph]
      # @param rig [Rig::Layout]
      def initialize(graph, rig)
        @graph = graph
        @bits = Hash.new(0)
        rig.listeners.each_with_index { |device, i| rig.heard_at(device).each { |id| spread(id, 1 << i) } }
      end

      # A track passes nothing on while it records, but what it plays is asked of itself.
      #
      # @return [Integer]
      def of(id) = @graph.track?(id) ? from_track(id) : @bits.fetch(id, 0)

      private

      def from_track(id) = @graph.from(id).reduce(0) { |bits, edge| bits | @bits[edge.to] }

      def spread(id, bit)
        queue = [id]
        while (place = queue.pop)
          next unless (@bits[place] & bit).zero?

          @bits[place] |= bit
          next if @graph.track?(place)

          @graph.to(place).each { |edge| queue << edge.from if (@bits.fetch(edge.from, 0) & bit).zero? }
        end
      end
    end
  end
end

# frozen_string_literal: true

require "tsort"

module Loomshuttle
  module Signal
    # Loops: places from which a signal comes round to itself, through monitor or return
    # paths. Tracks count, since a track that is monitored passes its input on.
    module Cycles
      module_function

      # @return [Array<Array<String>>] places of each loop
      def of(show)
        graph = show.graph
        nodes = ->(&each) { graph.edges.map(&:from).uniq.each(&each) }
        nexts = ->(id, &each) { graph.from(id).map(&:to).each(&each) }
        TSort.strongly_connected_components(nodes, nexts).select do |places|
          places.size > 1 || graph.from(places.first).any? { |edge| edge.to == places.first }
        end
      end
    end
  end
end

# frozen_string_literal: true

require "tsort"

module Loomshuttle
  module Signal
    # Loops: places from which a signal comes round to itself, through monitor or return
    # paths. Tracks count, since a track that is monitored passes its input on.
    module Cycles
      module_function

      # Fixed lines lead in no circle by themselves: a loop shows among the places that a patch or
      # a send leads to, each with what is before it; only where there is one all its places are found.
      #
      # @return [Array<Array<String>>] places of each loop
      def of(show)
        return [] unless round?(show)

        before = before(show)
        nodes = ->(&each) { before.each_key(&each) }
        nexts = ->(id, &each) { before[id]&.each { |other| each.call(other) if before.key?(other) } }
        (TSort.strongly_connected_components(nodes, nexts).any? { |places| loop?(before, places) }) ? all(show) : []
      end

      # Whether anything could come round at all: over returns, mixes of mixes or lines from an output
      # into a socket.
      def round?(show)
        Feed.returning?(show) || lines?(show.rig) || mixes_of_mixes?(show)
      end

      def mixes_of_mixes?(show)
        show.kept(:mixes_of_mixes, [show.rig, show.patch.sends]) { show.patch.sends.each_key.any? { |from| show.rig.kind_of(from) != "channel" } }
      end

      def lines?(rig) = rig.once(:lines) { rig.cables.any? { |cable| cable.ends.none? { |name| rig.port(name).last.digital? } } }

      # @return [Hash{String => Array<String>}] slots and mixes, with the beginnings of what leads there
      def before(show)
        graph = show.graph
        laid = show.patch.slots.to_h { |slot, _| [slot, graph.back(slot)&.then { |edge| [graph.fixed_beginning(edge.from)] } || []] }
        show.patch.sends.each { |from, mixes| mixes.each_key { |mix| (laid[mix] ||= []) << graph.fixed_beginning(from) } }
        laid
      end

      def all(show)
        graph = show.graph
        after = Hash.new { |found, id| found[id] = graph.from(id).map(&:to) }
        nodes = ->(&each) { graph.edges.map(&:from).uniq.each(&each) }
        TSort.strongly_connected_components(nodes, ->(id, &each) { after[id].each(&each) }).select { |places| loop?(after, places) }
      end

      def loop?(nexts, places) = places.size > 1 || nexts[places.first].include?(places.first)
      private_class_method :round?, :mixes_of_mixes?, :lines?, :before, :all, :loop?
    end
  end
end

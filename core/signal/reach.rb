# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Which listeners a source can reach. Mutes and faders do not count: they can be moved
    # by a hand in the dark, a missing assignment cannot.
    module Reach
      module_function

      # @return [Array<Rig::Device>] listeners, in the rig's order
      def listeners(show, id)
        bits = show.graph.listeners_bits(id)
        bits.zero? ? [] : show.rig.listeners.each_with_index.select { |_, i| bits[i] == 1 }.map(&:first)
      end

      # The same of a place near its listeners, such as a mix or an output: walked from there, without
      # working out the reach of all places.
      #
      # @return [Array<Rig::Device>] listeners
      def near(show, id)
        ends = show.graph.onward(id).map { |edge| show.rig.place(edge.to) }
        ends.filter_map { |place| place.device if place&.device&.listener? }.uniq
      end

      # Every join on some way from a place to a listener.
      #
      # @return [Array<Edge>] in the order in which the signal runs
      def ways(show, id, listener_id)
        bit = show.rig.listeners.index { |device| device.id == listener_id }
        show.graph.onward(id).select { |edge| !show.graph.track?(edge.to) && show.graph.listeners_bits(edge.to)[bit] == 1 }
      end
    end
  end
end

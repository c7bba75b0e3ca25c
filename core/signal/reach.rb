# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Which listeners a source can reach. Mutes and faders do not count: they can be moved
    # by a hand in the dark, a missing assignment cannot.
    module Reach
      module_function

      # @return [Array<Rig::Device>] listeners, in the rig's order
      def listeners(show, id)
        reached = show.graph.onward(id).map { |edge| Endpoint.parse(edge.to).device }.to_set
        show.rig.listeners.select { |device| reached.include?(device.id) }
      end

      # Every join on some way from a place to a listener.
      #
      # @return [Array<Edge>] in the order in which the signal runs
      def ways(show, id, listener_id)
        walked = show.graph.onward(id)
        leads = Set.new
        walked.reverse_each.map(&:to).uniq.each { |place| leads << place if Endpoint.parse(place).device == listener_id }
        loop do
          more = walked.select { |edge| leads.include?(edge.to) && !leads.include?(edge.from) }
          break if more.empty?

          leads.merge(more.map(&:from))
        end
        walked.select { |edge| leads.include?(edge.to) }
      end
    end
  end
end

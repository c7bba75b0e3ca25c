# frozen_string_literal: true

module Loomshuttle
  module Signal
    # All joins of a show as a directed graph over endpoint ids. Everything that follows a
    # signal (trace, reach, checks, loom) walks this and nothing else. What hangs on the
    # rig alone is kept with the rig (Wiring); the patch's joins are laid over it.
    #
    #   graph = show.graph
    #   graph.from("desk/channel/9")    # => [Edge, ...] onward
    #   graph.line_back("rec/track/9")  # => ["rec/track/9", "rec/lane-in/9", ...]
    class Graph
      NONE = Wiring::NONE
      private_constant :NONE

      def initialize(show)
        @show = show
        @wiring = Wiring.of(show.rig, show.sample_rate_hz)
        @tracks, @channels = %w[track channel].map { |kind| show.rig.ids_of(kind) }
        @sends = show.sends
        @laid = plug_edges + patch_edges
        @from = @laid.group_by(&:from)
        @to = @laid.group_by(&:to)
        @lines = {}
        @onward = {}
      end

      def edges = @wiring.edges + @laid + @sends.edges
      def from(id) = both(both(@wiring.from(id), @from[id]), @sends.from[id])
      def to(id) = both(both(@wiring.to(id), @to[id]), @sends.to[id])
      def fixed_onward(id) = @wiring.onward(id)
      def fixed_beginning(id) = @wiring.line_back(id).last

      # The one join that a place's signal comes by; nil at its beginning and behind a mix.
      def back(id) = single(to(id))

      # The single line of places from here back to where the signal begins. It ends where
      # a place is fed by nothing, by a mix of several, or where it comes round again.
      #
      # @return [Array<String>] frozen
      def line_back(id) = @lines[id] ||= build_line(id).freeze

      # Every edge that a signal from here can run along, in breadth-first order. Recorded
      # tracks end a way (what is on disk plays later) unless the way begins there.
      #
      # @return [Array<Edge>] frozen
      def onward(id) = @onward[id] ||= walk(id).freeze

      def track?(id) = @tracks.include?(id)

      # Which listeners a signal from here can reach.
      #
      # @return [Integer] a bit for each of the rig's listeners, in their order
      def listeners_bits(id) = (@reached ||= ReachBits.new(self, @show.rig)).of(id)

      private

      def both(fixed, laid)
        return fixed unless laid
        return laid if fixed.empty?

        fixed + laid
      end

      # Piece by piece: the fixed line up to a slot or a socket, then the one patched join
      # behind it. It ends where a place comes round again.
      def build_line(id)
        line = []
        now = id
        while now
          piece = @wiring.line_back(now)
          again = line.empty? ? nil : piece.index { |place| line.include?(place) }
          return line.concat(piece.first(again)) if again

          line.concat(piece)
          now = back(piece.last)&.from
        end
        line
      end

      def walk(id)
        seen = {id => true}
        queue = [id]
        walked = []
        at = 0
        while (place = queue[at])
          at += 1
          next if at > 1 && track?(place)

          from(place).each do |edge|
            walked << edge
            next if seen[edge.to]

            seen[edge.to] = true
            queue << edge.to
          end
        end
        walked
      end

      # Two rows in one socket are a mistake that a check names; the line then follows the
      # first of them. Mixes have no single line.
      def single(edges)
        edge = edges.first
        edge unless edge.nil? || edge.kind == :send
      end

      def plug_edges = @show.patch.plugs.map { |row_id, socket_id| Edge.join(row_id, socket_id, :plug) }

      def patch_edges
        turned = @show.turned_channels
        @show.patch.slots.filter_map do |slot_id, take|
          # A channel that is switched over listens to its second slot instead.
          next if turned.include?(slot_id)

          source = (take.tap == "raw") ? before_feed(take.from) : take.from
          Edge.join(source, slot_id, :patch, take.tap) if source
        end + turned_edges
      end

      def turned_edges
        @show.turned_channels.map { |channel_id| Edge.join(@show.second_slot(channel_id), channel_id, :patch, "raw") }
      end

      # A raw tap on a channel only ever carries the channel's socket: nothing when the
      # channel listens to the computer.
      def before_feed(source_id)
        return source_id unless @channels.include?(source_id)

        socket = @show.patch.slots[source_id]&.from
        socket unless socket.nil? || Endpoint.parse(socket).family == "card-return"
      end
    end
  end
end

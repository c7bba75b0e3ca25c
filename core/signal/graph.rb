# frozen_string_literal: true

module Loomshuttle
  module Signal
    # All joins of a show as a directed graph over endpoint ids. Everything that follows a
    # signal (trace, reach, checks, loom) walks this and nothing else. What hangs on the
    # rig alone is kept with the rig (Wiring); the patch's joins (Laid, Sends) are laid over it.
    #
    #   graph = show.graph
    #   graph.from("desk/channel/9")    # => [Edge, ...] onward
    #   graph.line_back("rec/track/9")  # => ["rec/track/9", "rec/lane-in/9", ...]
    class Graph
      NONE = Wiring::NONE
      NO_LINES = {}.freeze
      private_constant :NONE, :NO_LINES

      # @param before [Graph, nil] of a show that this one was made from: what its edits did not touch is
      #   not walked again
      def initialize(show, before = nil)
        @rig = show.rig
        @wiring = Wiring.of(show.rig, show.sample_rate_hz)
        @tracks = show.rig.ids_of("track")
        @laid = show.laid
        @sends = show.sends
        @rows = show.rows
        @plugged = show.patch.plugs.values
        @lines = {}
        @walks = {}
        @behind = {}
        @into, @out = @laid.changed_since(before.laid) if before&.like?(@wiring, @sends, @rows, @plugged)
        @lines_before, @walks_before, @behind_before = @into ? [before.lines, before.walks, before.beginnings] : [NO_LINES, NO_LINES, NO_LINES]
      end

      def edges = @wiring.edges + @laid.edges + @sends.edges
      def from(id) = both(both(@wiring.from(id), @laid.from[id]), @sends.from[id])
      def to(id) = both(both(@wiring.to(id), @laid.to[id]), @sends.to[id])

      # Whether something is plugged in where a cable of fixed lines ends as well: the plug is
      # followed, a check names the other.
      def doubled?(id) = doubled.include?(id)
      def fixed_onward(id) = @wiring.onward(id)
      def fixed_beginning(id) = fixed_back(id).last

      # The one join that a place's signal comes by; nil at its beginning and behind a mix.
      def back(id) = single(to(id))

      # The single line of places from here back to where the signal begins. It ends where
      # a place is fed by nothing, by a mix of several, or where it comes round again.
      #
      # @return [Array<String>] frozen
      def line_back(id) = @lines[id] ||= line_before(id) || build_line(id).freeze

      # Where the line to a place begins, or the nearest track on it, whether anybody lists it or not: what
      # is on disk plays later. Lines share their beginnings, so each place is walked once for all
      # questions.
      #
      # @return [Array(String, String), Array(String, nil)] origin, track
      def behind(id) = (@behind[id] ||= behind_before(id) || walk_behind(id)).answer

      # Every edge that a signal from here can run along, in breadth-first order. Recorded
      # tracks end a way (what is on disk plays later) unless the way begins there.
      #
      # @return [Array<Edge>] frozen
      def onward(id) = @walks[id] ||= walk_before(id) || walk(id).freeze

      def track?(id) = @tracks.include?(id)

      # Which listeners a signal from here can reach.
      #
      # @return [Integer] a bit for each of the rig's listeners, in their order
      def listeners_bits(id) = (@reached ||= ReachBits.new(self, @rig)).of(id)

      # Whether two graphs differ in slots alone, that is in what Laid has of them.
      def like?(wiring, sends, rows, plugged) = @wiring.equal?(wiring) && @sends.equal?(sends) && @rows.equal?(rows) && @plugged == plugged

      protected

      attr_reader :laid, :lines, :walks

      def beginnings = @behind

      private

      # A line stands as long as nothing else comes to any of its places.
      def line_before(id)
        line = @lines_before[id]
        line if line&.none? { |place| @into.include?(place) }
      end

      # What a line begins with, and the places at which the way there left fixed wires.
      Beginning = Struct.new(:answer, :passed)
      private_constant :Beginning

      def behind_before(id)
        known = @behind_before[id]
        known if known&.passed&.none? { |place| @into.include?(place) }
      end

      def walk_behind(id)
        passed = []
        now = id
        until (known = @behind[now]) || (answer = ending(passed, now))
          passed << now
          # No patch and no track lies on fixed wires: they are passed in one step.
          now = fixed_beginning(back(now).from)
        end
        passed << now
        found = known ? Beginning.new(known.answer, (passed + known.passed).freeze) : Beginning.new(answer.freeze, passed.freeze)
        passed.each { |place| @behind[place] ||= found }
        found
      end

      # What a line begins with, where it begins here, behind a track, or comes round again.
      def ending(passed, now)
        before = back(now)&.from
        return [now, nil] if before.nil? || passed.include?(now)
        return [before, nil] if @rows.key?(before)

        [before, before] if track?(before)
      end

      # A walk stands as long as nothing else leaves one of its places.
      def walk_before(id)
        edges = @walks_before[id]
        edges if edges && !@out.include?(id) && edges.none? { |edge| @out.include?(edge.to) }
      end

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
          piece = fixed_back(now)
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
      # first of the list, whichever was plugged in first. Mixes have no single line.
      def single(edges)
        return nil if edges.empty?

        edge = edges.first
        edge = edges.select { |one| one.kind == :plug }.min_by { |one| @rows[one.from]&.number || 0 } || edge if edges.size > 1 && edge.kind != :send
        edge unless edge.kind == :send
      end

      # A fixed line ends where something else is plugged in.
      def fixed_back(id)
        line = @wiring.line_back(id)
        return line if doubled.empty?

        at = line.index { |place| doubled?(place) }
        at ? line.first(at + 1) : line
      end

      def doubled = @doubled ||= @plugged.select { |socket| @wiring.to(socket).any? }.to_set
    end
  end
end

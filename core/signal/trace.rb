# frozen_string_literal: true

module Loomshuttle
  module Signal
    # One signal's whole way from or to an endpoint: the joins in order, and where and why
    # it ends, as data.
    #
    #   Trace.forward(show, "list/row/9").ends  # => [End(id: "rec/track/9", why: ...)]
    class Trace < Value.of(:start, :direction, :steps, :ends, :sentence)
      FORWARD_WHY = {"listener" => "heard here", "track" => "recorded here"}.freeze
      private_constant :FORWARD_WHY

      # @raise [BadInput] when the show has no such endpoint
      def self.forward(show, id) = build(show, id, :forward)
      def self.back(show, id) = build(show, id, :back)

      def self.build(show, id, direction)
        known?(show, id) or raise BadInput.new(field: "endpoint",
          value: id,
          allowed: "a place of this show, such as #{show.rows.keys.first || "desk/channel/1"}")
        steps = (direction == :forward) ? show.graph.onward(id) : backward(show, id)
        new(start: id, direction: direction, steps: steps, ends: ends(show, id, steps, direction),
          sentence: Sentence.of(show, id, direction))
      end

      # @return [Boolean] whether the show has such a place, row, role or mix
      def self.known?(show, id)
        endpoint = Endpoint.parse(id)
        case endpoint.field
        when "list/row" then show.rows.key?(id)
        when "songs/role" then show.roles.key?(endpoint.number.to_s)
        when "songs/mix" then show.mixes.key?(endpoint.number.to_s)
        else show.rig.named?(id)
        end
      end

      def self.backward(show, id)
        seen = {id => true}
        queue = [id]
        walked = []
        while (place = queue.shift)
          show.graph.to(place).each do |edge|
            walked << edge
            queue << edge.from unless seen[edge.from]
            seen[edge.from] = true
          end
        end
        walked
      end

      def self.ends(show, start, steps, direction)
        forward = direction == :forward
        left = {}
        steps.each { |edge| left[forward ? edge.from : edge.to] = true }
        found = left.key?(start) ? [] : [start]
        # Each end once: it is left from then on.
        steps.each do |edge|
          id = forward ? edge.to : edge.from
          found << id unless left.key?(id)
          left[id] = true
        end
        found.map { |id| End.new(id, why(show, id, direction)).freeze }
      end

      def self.why(show, id, direction)
        kind = show.rig.kind_of(id)
        return FORWARD_WHY.fetch(kind, "nothing takes it from here") if direction == :forward
        return "a source of the input list" if id.start_with?("list/")
        return "a mix of roles" if id.start_with?("songs/mix/")
        return "a role of the songs" if id.start_with?("songs/")
        return "nothing is plugged in here" if kind == "socket" && Endpoint.parse(id).family == "mic"

        "takes nothing"
      end

      private_class_method :build, :backward, :ends, :why

      def to_data
        {start: start, direction: direction, sentence: sentence, steps: steps.map(&:to_h), ends: ends.map(&:to_h)}
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # How many slots a run may have: more than any field has.
    RUN_SLOTS = (1..512)

    # Lays a run straight: slot n from source n, n+1 from n+1 ... for `count` slots. Blocks
    # on the way move whole. Either all of it can be laid or none is.
    Run = Edit.of("run", slot: :id, from: :id, count: :whole) do
      def apply(show)
        return Group.new(edits: steps).apply(show) if RUN_SLOTS.cover?(count)

        Refusal.new(field: "count",
          value: count,
          allowed: "#{RUN_SLOTS.min} to #{RUN_SLOTS.max}",
          why: "A run has #{RUN_SLOTS.min} to #{RUN_SLOTS.max} slots, not #{count}.")
      end

      private

      def steps
        (0...count).map do |step|
          Connect.new(slot: Endpoint.parse(slot).onward(step), from: Endpoint.parse(from).onward(step))
        end
      end
    end
  end
end

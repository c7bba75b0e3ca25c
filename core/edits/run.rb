# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Lays a run straight: slot n from source n, n+1 from n+1 ... for `count` slots. Blocks
    # on the way move whole. Either all of it can be laid or none is.
    Run = Value.of(:slot, :from, :count) do
      def self.from_h(hash) = new(slot: hash.fetch("slot"), from: hash.fetch("from"), count: Integer(hash.fetch("count")))
      def to_data = {kind: "run", slot: slot, from: from, count: count}

      def apply(show) = Group.new(edits: steps).apply(show)
      def inverse(show) = Restore.slots_of(show, steps.flat_map { |step| Patch::Block.slots(show, step.slot) }.uniq)

      private

      def steps
        (0...count).map do |step|
          Connect.new(slot: ahead(slot, step), from: ahead(from, step))
        end
      end

      def ahead(id, step)
        endpoint = Endpoint.parse(id)
        endpoint.at(endpoint.number + step)
      end
    end
  end
end

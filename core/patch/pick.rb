# frozen_string_literal: true

module Loomshuttle
  module Patch
    # What a slot takes: a source endpoint's id, the tap there, and a delay in ms.
    Pick = Value.of(:from, tap: nil, delay_ms: 0.0) do
      def self.from_h(hash) = new(from: hash.fetch("from"), tap: hash["tap"], delay_ms: hash.fetch("delay_ms", 0.0).to_f)
    end
  end
end

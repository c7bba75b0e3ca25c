# frozen_string_literal: true

module Loomshuttle
  module Signal
    # One join between two places.
    #
    # kind  :plug (row to socket), :wire (inside a device), :cable, :patch, :send
    Edge = Value.of(:from, :to, :kind, tap: nil, level_db: 0.0) do
      # Joins that no patch changes.
      def fixed? = kind == :wire || kind == :cable
    end
  end
end

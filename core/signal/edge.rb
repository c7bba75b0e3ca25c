# frozen_string_literal: true

module Loomshuttle
  module Signal
    # One join between two places. Thousands are made with every edit of a large show, so
    # this value is built by place, not by keyword.
    #
    # kind  :plug (row to socket), :wire (inside a device), :cable, :patch, :send
    Edge = Struct.new(:from, :to, :kind, :tap, :level_db) do
      # @return [Edge] frozen
      def self.join(from, to, kind, tap = nil, level_db = 0.0) = new(from, to, kind, tap, level_db).freeze
    end
  end
end

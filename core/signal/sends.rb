# frozen_string_literal: true

module Loomshuttle
  module Signal
    # The joins of sends to mixes, by both of their ends. They hang on nothing else, so one
    # serves every show that has the same sends, mixes of roles and set list.
    class Sends
      attr_reader :edges, :from, :to

      # @param sends [Hash] Patch::Scene#sends
      # @param beside [Array<Edge>] joins that no desk makes, see RoleWays
      def initialize(sends, beside = [])
        @edges = beside + sends.flat_map { |from_id, mixes| mixes.map { |mix_id, send| Edge.join(from_id, mix_id, :send, send.tap, send.level_db) } }
        @from = @edges.group_by(&:from)
        @to = @edges.group_by(&:to)
      end
    end
  end
end

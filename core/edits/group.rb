# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Several edits as one: all are done or none, and one undo takes all back.
    Group = Value.of(:edits) do
      def self.from_h(hash) = new(edits: hash.fetch("edits").map { |edit| Edits.from_h(edit) })
      def to_data = {kind: "group", edits: edits.map(&:to_data)}

      def apply(show)
        edits.reduce(show) do |current, edit|
          result = edit.apply(current)
          return result if result.is_a?(Refusal)

          result
        end
      end

      def inverse(show)
        inverses = edits.map do |edit|
          undo = edit.inverse(show)
          show = edit.apply(show)
          undo
        end
        Group.new(edits: inverses.reverse)
      end
    end
  end
end

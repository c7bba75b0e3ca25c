# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Several edits as one: all are done or none, and one undo takes all back.
    Group = Edit.of("group", edits: :edits) do
      def apply(show)
        edits.reduce(show) do |current, edit|
          result = edit.apply(current)
          return result if result.is_a?(Refusal)

          result
        end
      end
    end
  end
end

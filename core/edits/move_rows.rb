# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Moves rows of the input list so that the first of them comes to stand at number `to`;
    # the rows between close up. With `follow` plugs and tracks go with their source; without,
    # they stay with the number and what is written in the row moves alone.
    MoveRows = Edit.of("move_rows", rows: :ids, to: :whole, follow: [:flag, true]) do
      def apply(show)
        unknown = rows.find { |id| !show.rows.key?(id) }
        if unknown
          return Refusal.new(field: "rows", value: unknown, allowed: "rows of the input list", why: "The input list has no #{unknown}.")
        end
        unless to.between?(1, show.rows.size)
          return Refusal.new(field: "to",
            value: to,
            allowed: "a number from 1 to #{show.rows.size}",
            why: "There is no place #{to} in a list of #{show.rows.size} rows.")
        end

        moved = Show::Parts["rows"].in_order(show.rows, Show::Order.moves(show.rows.keys, order(show)))
        follow ? show.with(rows: moved) : staying(show, moved)
      end

      private

      # @return [Array<String>] ids as they are to stand
      def order(show)
        ids = show.rows.keys
        rest = ids - rows
        rest.first(to - 1) + ids.select { |id| rows.include?(id) } + rest.drop(to - 1)
      end

      # What is plugged in and recorded stays with the number: whoever stands there now takes it
      # over.
      def staying(show, moved)
        heirs = show.rows.keys.zip(moved.keys).to_h
        show.with(rows: moved,
          tracks: show.tracks.transform_values { |track| track.row ? track.with(row: heirs.fetch(track.row, track.row)) : track }.freeze,
          patch: inherited(show.patch, heirs),
          scenes: show.scenes.transform_values { |scene| inherited(scene, heirs) }.freeze)
      end

      def inherited(patch, heirs) = patch.with(plugs: patch.plugs.transform_keys { |id| heirs.fetch(id, id) }.freeze)
    end
  end
end

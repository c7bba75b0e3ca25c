# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Moves rows of the input list so that the first of them comes to stand at number `to`;
    # the rows between close up. With `follow` plugs and tracks go with their source; without,
    # they stay with the number and what is written in the row moves alone.
    MoveRows = Value.of(:rows, :to, follow: true) do
      include Reversed

      def self.from_h(hash)
        new(rows: Array(hash.fetch("rows")), to: Integer(hash.fetch("to")), follow: hash.fetch("follow", true) == true)
      end

      def to_data = {kind: "move_rows", rows: rows, to: to, follow: follow}

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

        moved = renamed(show)
        follow ? followed(show, moved) : show.with(rows: written(show, moved))
      end

      private

      # The ids that the list has stay; what stands in them is dealt out anew.
      #
      # @return [Hash{String => String}] id before => id after
      def renamed(show)
        ids = show.rows.keys
        rest = ids - rows
        order = rest.first(to - 1) + ids.select { |id| rows.include?(id) } + rest.drop(to - 1)
        order.each_with_index.to_h { |id, i| [id, ids[i]] }
      end

      def written(show, moved)
        show.rows.to_h { |id, row| [moved[id], row.with(id: moved[id], pair: moved[row.pair])] }.sort_by { |_, row| row.number }.to_h.freeze
      end

      def followed(show, moved)
        tracks = show.tracks.transform_values { |track| track.row ? track.with(row: moved.fetch(track.row, track.row)) : track }
        show.with(rows: written(show, moved),
          tracks: tracks.freeze,
          patch: plugged(show.patch, moved),
          scenes: show.scenes.transform_values { |scene| plugged(scene, moved) }.freeze)
      end

      def plugged(patch, moved) = patch.with(plugs: patch.plugs.transform_keys { |id| moved.fetch(id, id) }.freeze)
    end
  end
end

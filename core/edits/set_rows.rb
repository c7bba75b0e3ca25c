# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Writes cells of the input list: row id => {column => value}. A row that is not there
    # yet is added (it needs a name); a row given as nil is taken out, with its plug.
    class SetRows < Value.of(:rows)
      include Reversed

      def self.from_h(hash)
        rows = hash.fetch("rows")
        unless rows.is_a?(Hash) && rows.values.all? { |cells| cells?(cells) }
          raise BadInput.new(field: "edit.rows", value: rows, allowed: "an object of row id to columns")
        end

        new(rows: rows)
      end

      def self.cells?(cells) = cells.nil? || cells.is_a?(Hash)
      private_class_method :cells?

      def to_data = {kind: "rows", rows: rows}

      def apply(show)
        refusal = rows.filter_map { |id, cells| refuse(show, id, cells) }.first
        return refusal if refusal

        gone = rows.select { |_, cells| cells.nil? }.keys
        Capture::Track.following(show, without(gone, write(show, rows.compact)))
      end

      private

      COLUMNS = (Capture::Row::COLUMNS.map(&:to_s) + ["pair"]).freeze
      private_constant :COLUMNS

      def refuse(show, id, cells)
        unless id.match?(%r{\Alist/row/[1-9]\d{0,3}\z})
          return said("row", id, "list/row/1 to list/row/4000", "#{id} is no row of an input list.")
        end
        if cells.nil?
          return (show.rows.key?(id) ? nil : said("row", id, "a row of the input list", "The input list has no #{id} to take out."))
        end
        return said("name", nil, "a name", "Row #{number(id)} is new and needs a name.") unless show.rows.key?(id) || cells.key?("name")

        cells.filter_map { |column, value| refuse_cell(show, id, column, value) }.first
      end

      def refuse_cell(show, id, column, value)
        return said(column, value, COLUMNS.join(", "), "The input list has no column \"#{column}\".") unless COLUMNS.include?(column)
        return refuse_pair(show, id, value) if column == "pair"

        fault = Capture::Row.fault(column.to_sym, value)
        fault && said(column, value, fault, "Row #{number(id)}, #{column}: #{value.inspect} is not usable; #{fault}.")
      end

      def refuse_pair(show, id, other)
        return nil if other.nil? || (other != id && (show.rows.key?(other) || rows[other]))

        said("pair", other, "another row of the input list", "Row #{number(id)} cannot be paired with #{other}.")
      end

      def write(show, cells)
        made = cells.to_h { |id, columns| [id, written(show.rows[id], id, columns.except("pair"))] }
        pairs = cells.select { |_, columns| columns.key?("pair") }.transform_values { |columns| columns["pair"] }
        with_rows(show, paired(show.rows.merge(made), pairs))
      end

      def written(row, id, columns)
        given = columns.transform_keys(&:to_sym)
        row ? row.with(**given) : Capture::Row.new(id: id, **given)
      end

      # Both sides of a pair know each other; whoever was paired before is free again.
      def paired(all, pairs)
        pairs.reduce(all) do |now, (id, other)|
          free = [now[id].pair, other && now[other].pair].compact & now.keys
          cleared = free.reduce(now) { |rows, side| rows.merge(side => rows[side].with(pair: nil)) }
          joined = cleared.merge(id => cleared[id].with(pair: other))
          other ? joined.merge(other => joined[other].with(pair: id)) : joined
        end
      end

      def without(gone, show)
        return show if gone.empty?

        kept = show.rows.except(*gone).transform_values { |row| gone.include?(row.pair) ? row.with(pair: nil) : row }
        tracks = show.tracks.transform_values { |track| gone.include?(track.row) ? track.with(row: nil) : track }
        with_rows(show, kept).with(tracks: tracks.freeze,
          patch: unplugged(show.patch, gone),
          scenes: show.scenes.transform_values { |scene| unplugged(scene, gone) }.freeze)
      end

      def unplugged(patch, gone) = patch.with(plugs: patch.plugs.except(*gone).freeze)
      def with_rows(show, all) = show.with(rows: all.sort_by { |_, row| row.number }.to_h.freeze)
      def number(id) = Endpoint.parse(id).number
      def said(field, value, allowed, why) = Refusal.new(field: field, value: value, allowed: allowed, why: why)
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Writes cells of the input list: row id => {column => value}. A row that is not there
    # yet is added: it needs a name, and may say its number, else it stands at the end. A row
    # given as nil is taken out, with its plug. Colours and stitches go by group (Capture::Dyes).
    class SetRows < Edit.of("rows", rows: :cells)
      def apply(show)
        refusal = rows.filter_map { |id, cells| refuse(show, id, cells) }.first
        return refusal if refusal

        gone = rows.select { |_, cells| cells.nil? }.keys
        Capture::Track.following(show, without(gone, write(show, rows.compact)))
      end

      private

      COLUMNS = (Capture::Row::COLUMNS.map(&:to_s) + %w[pair number]).freeze
      private_constant :COLUMNS

      def refuse(show, id, cells)
        return Refusal.of("row", id, "list/row/ and letters, digits, - or _", "#{id} is no row of an input list.") unless id.match?(Capture::Row::ID)

        if cells.nil?
          return (show.rows.key?(id) ? nil : Refusal.of("row", id, "a row of the input list", "The input list has no #{id} to take out."))
        end
        return Refusal.of("name", nil, "a name", "A new row needs a name.") unless show.rows.key?(id) || cells.key?("name")

        cells.filter_map { |column, value| refuse_cell(show, id, column, value) }.first
      end

      def refuse_cell(show, id, column, value)
        return Refusal.of(column, value, COLUMNS.join(", "), "The input list has no column \"#{column}\".") unless COLUMNS.include?(column)
        return refuse_pair(show, id, value) if column == "pair"
        return refuse_number(show, id, value) if column == "number"

        fault = Capture::Row.fault(column.to_sym, value)
        fault && Refusal.of(column, value, fault, "#{called(show, id)}, #{column}: #{value.inspect} is not usable; #{fault}.")
      end

      def refuse_number(show, id, value)
        known = show.rows[id]
        return nil if known && known.number == value
        return Refusal.of("number", value, known.number.to_s, "Row #{known.number} keeps its number here; move it in the list instead.") if known
        unless value.is_a?(Integer) && value.between?(1, Capture::Row::NUMBER_MAX)
          return Refusal.of("number", value, "a number from 1 to #{Capture::Row::NUMBER_MAX}", "#{value.inspect} is no number of a row.")
        end

        holder = show.rows.each_value.find { |row| row.number == value && rows.fetch(row.id, true) } || rows.find { |other, cells|
          other != id && cells && cells["number"] == value && !show.rows.key?(other)
        }
        holder && Refusal.of("number", value, "a number that no row has", "Row #{value} is there already.")
      end

      def called(show, id) = show.rows.key?(id) ? "Row #{show.rows[id].number}" : "The new row #{rows.dig(id, "name")}".strip

      def refuse_pair(show, id, other)
        return nil if other.nil? || (other != id && (show.rows.key?(other) || rows[other]))

        Refusal.of("pair", other, "another row of the input list", "#{called(show, id)} cannot be paired with #{show.rows.key?(other) ? "itself" : "a row that is not there"}.")
      end

      def write(show, cells)
        next_number = ([*show.rows.values.map(&:number), *cells.values.filter_map { |columns| columns["number"] }].max || 0) + 1
        made = cells.to_h do |id, columns|
          row = written(show.rows[id], id, {"number" => next_number}.merge(columns.except("pair")))
          next_number += 1 if row.number == next_number
          [id, row]
        end
        pairs = cells.select { |_, columns| columns.key?("pair") }.transform_values { |columns| columns["pair"] }
        with_rows(show, Capture::Dyes.by_group(show.rows, paired(show.rows.merge(made), pairs), cells))
      end

      def written(row, id, columns)
        given = columns.transform_keys(&:to_sym)
        row ? row.with(**given, number: row.number) : Capture::Row.new(id: id, **given)
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

      def without(gone, show) = gone.empty? ? show : Show::Parts.without(show) { |id| gone.include?(id) }
      def with_rows(show, all) = show.with(rows: all.sort_by { |_, row| row.number }.to_h.freeze)
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  class Show
    module Parts
      # The input list. A row's number is where it stands: moving one row deals the numbers that
      # the list has out anew, and only that row was touched.
      class Rows < Part
        def form = :list
        def ordered? = true
        def differs?(value, other) = value.nil? || other.nil? || value != other.with(number: value.number)

        def put(show, values, moves)
          rows = values.reduce(show.rows) { |now, (id, row)| row ? now.merge(id => numbered(now, row)) : now.except(id) }
          show.with(rows: in_order(rows.sort_by { |_, row| row.number }.to_h, moves.reject { |id, _| !show.rows.key?(id) }))
        end

        def encode(value) = value.to_h
        def decode(data, _profiles) = Capture::Row.new(**data.transform_keys(&:to_sym))
        def subject(_show, _key, value) = "Row #{value.number} (#{value.name})"
        def mentions(value) = [value.pair].compact

        # A row stays when its partner goes.
        def without(key, value)
          return nil if yield key

          (value.pair && yield(value.pair)) ? value.with(pair: nil) : value
        end

        # @param rows [Hash{String => Capture::Row}] by number
        # @return [Hash] in the order of the moves, with the numbers that the list has
        def in_order(rows, moves)
          return rows.freeze if moves.empty?

          numbers = rows.values.map(&:number)
          Order.keys(rows.keys, moves).each_with_index.to_h { |id, at| [id, renumbered(rows[id], numbers[at])] }.freeze
        end

        private

        # A row that is there keeps its number; one that comes back has its own where that is free.
        def numbered(rows, row)
          return renumbered(row, rows[row.id].number) if rows.key?(row.id)

          taken = rows.each_value.any? { |other| other.number == row.number }
          taken ? row.with(number: rows.values.map(&:number).max + 1) : row
        end

        def renumbered(row, number) = (row.number == number) ? row : row.with(number: number)
      end
    end
  end
end

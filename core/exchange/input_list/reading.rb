# frozen_string_literal: true

module Loomshuttle
  module Exchange
    module InputList
      # One file's rows, read against the show that they are meant for.
      class Reading
        # Cells that are left empty keep what the row has, where the column needs a value.
        NEED_VALUE = %w[name kind colour stitch phantom].freeze
        private_constant :NEED_VALUE

        # @param columns [Array<String, nil>] what each place of a line is
        # @param lines [Array<Array(Integer, Array<String, nil>)>] line of the file and cells,
        #   without the headings
        def initialize(show, columns, lines)
          @show = show
          @columns = columns
          @lines = lines
          @faults = []
          @rows = {}
          @plugs = {}
          @at = {}
          @ids = {}
        end

        # @return [Plan]
        def plan(separator:, encoding:, columns:, replace:)
          @lines.each { |line, cells| read_line(cells, line) unless cells.all? { |cell| cell.to_s.strip.empty? } }
          check_sockets
          edits = [Edits::SetRows.new(rows: @rows.merge(gone(replace)))] + @plugs.map { |row, socket| Edits::Plug.new(row: row, socket: socket) }
          after = refused(edits)
          Plan.new(separator: separator,
            encoding: encoding,
            columns: columns,
            faults: @faults,
            changes: after ? words(after) : [],
            edit: @faults.empty? ? Edits::Group.new(edits: edits) : nil)
        end

        private

        def gone(replace) = replace ? (@show.rows.keys - @rows.keys).to_h { |id| [id, nil] } : {}

        # Line ends inside a cell are read as spaces: a row is one line everywhere else.
        def read_line(cells, line)
          given = @columns.zip(cells).reject { |column, _| column.nil? }.to_h.transform_values { |cell| Cells.read(cell.to_s.strip).gsub(/\s*[\r\n]+\s*/, " ") }
          id = row_id(given["number"], line) or return
          return fault(line, "number", "row #{given["number"]} stands on line #{@at[id]} already") if @at.key?(id)

          @at[id] = line
          @rows[id] = cells_of(id, given, line)
          @rows[id]["number"] = @ids.key(id) unless @show.rows.key?(id)
          plug(id, given["socket"], line) if given.key?("socket")
        end

        # Rows without a number go to the end of the list.
        def row_id(text, line)
          return id_of([*@show.rows.values.map(&:number), *@ids.keys].max.to_i + 1) if text.to_s.empty?
          unless text.match?(/\A\d{1,4}\z/) && text.to_i.between?(1, LINES_MAX)
            return fault(line, "number", "\"#{text}\" is no number from 1 to #{LINES_MAX}")
          end

          id_of(text.to_i)
        end

        # A number that the list has is its row; any other is a new row, which gets an id.
        def id_of(number)
          @ids[number] ||= known[number] || Ids.fresh("list/row/", number.to_s, *@lines.flat_map(&:last), taken: @show.rows)
        end

        def known = @known ||= @show.rows.values.to_h { |row| [row.number, row.id] }

        def cells_of(id, given, line)
          given.except("number", "socket").each_with_object({}) do |(column, text), cells|
            next if text.empty? && NEED_VALUE.include?(column) && (column != "name" || @show.rows.key?(id))

            put(cells, column, text, line)
          end
        end

        def put(cells, column, text, line)
          return cells["pair"] = pair(text, line) if column == "pair"

          value = InputList.value(column, text)
          wrong = value.nil? ? "yes or no" : Capture::Row.fault(column.to_sym, value)
          wrong ? fault(line, column, "\"#{text}\" is not usable; #{wrong}") : cells[column] = value
        end

        def pair(text, line)
          return nil if text.empty?

          text.match?(/\A\d{1,4}\z/) ? id_of(text.to_i) : fault(line, "pair", "\"#{text}\" is no number of a row")
        end

        def plug(id, text, line)
          return @plugs[id] = nil if text.empty?

          named = InputList.sockets(@show).fetch(text.downcase, [])
          return @plugs[id] = named.first if named.size == 1
          return fault(line, "socket", "\"#{text}\" is said of #{named.size} sockets: #{named.join(", ")}; write which") if named.any?

          fault(line, "socket", "\"#{text}\" is no socket of this rig, such as #{InputList.sockets(@show).keys.first(2).join(", ")}")
        end

        def check_sockets
          @plugs.compact.group_by(&:last).select { |_, plugs| plugs.size > 1 }.each do |socket, plugs|
            fault(@at[plugs.last.first], "socket", "#{@show.rig.label(socket)} is taken by line #{@at[plugs.first.first]} already")
          end
        end

        # What the core itself would refuse stands among the faults too.
        def refused(edits)
          return nil if @faults.any?

          result = Edits::Group.new(edits: edits).apply(@show)
          return result unless result.is_a?(Refusal)

          fault(nil, result.field, result.why)
        end

        def words(after) = Compare::Shows.of(@show, after).map { |change| change[:words] }

        def fault(line, column, message)
          @faults << {line: line, column: column, message: message}
          nil
        end
      end
    end
  end
end

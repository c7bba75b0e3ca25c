# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # The input list as CSV (RFC 4180) and back. What is read may also have semicolons or
    # tabs between its cells, a byte-order mark, and UTF-16 or Latin-1 instead of UTF-8; the columns
    # may stand in any order under any of their usual names. Nothing is changed by reading:
    # the plan says what each column was taken for, what would change, and every fault with
    # its line.
    #
    #   plan = InputList.read(show, bytes)
    #   plan.edit.apply(show) if plan.faults.empty?
    module InputList
      # columns  [{heading:, column:}] column nil for one that is left out
      # faults   [{line:, column:, message:}]
      # changes  [String] in words
      # edit     Edits::Group, nil where there are faults
      Plan = Value.of(:separator, :encoding, :columns, :faults, :changes, :edit)

      HEADINGS = {
        "number" => ["number", "no", "no.", "nr", "#", "ch", "channel", "input"],
        "name" => ["name", "source", "instrument", "input name"],
        "short" => ["short", "short name", "label"],
        "kind" => ["kind", "type"],
        "mic" => ["mic", "microphone", "mic/di", "mic or di", "microphone or di"],
        "stand" => ["stand"],
        "phantom" => ["phantom", "phantom power", "48v", "+48v", "power"],
        "group" => ["group"],
        "colour" => %w[colour color],
        "stitch" => ["stitch"],
        "pair" => ["pair", "stereo pair", "stereo with"],
        "socket" => ["socket", "plugged in at", "plug", "where", "where plugged"],
        "safe" => ["safe"],
        "notes" => %w[notes note remarks comment]
      }.freeze
      WRITTEN = %w[number name short kind mic stand phantom group colour stitch pair socket safe notes].freeze
      TRUTHS = {"yes" => true,
                "y" => true,
                "x" => true,
                "1" => true,
                "true" => true,
                "on" => true,
                "no" => false,
                "n" => false,
                "0" => false,
                "false" => false,
                "off" => false,
                "" => false}.freeze
      SEPARATORS = [",", ";", "\t"].freeze
      # More than any stage; a whole year's list of something else is refused.
      LINES_MAX = Capture::Row::NUMBER_MAX
      # Byte-order marks of UTF-16.
      MARKS = {"\xFF\xFE".b => "UTF-16LE", "\xFE\xFF".b => "UTF-16BE"}.freeze
      private_constant :MARKS, :HEADINGS, :TRUTHS, :SEPARATORS

      module_function

      # @return [String] UTF-8, CRLF, comma: RFC 4180
      def write(show)
        CSV.generate(row_sep: "\r\n") do |csv|
          csv << WRITTEN
          show.rows.each_value { |row| csv << WRITTEN.map { |column| Cells.written(cell(show, row, column)) } }
        end
      end

      def cell(show, row, column)
        case column
        when "pair" then show.rows[row.pair]&.number
        when "socket" then show.patch.plugs[row.id]&.then { |socket| socket_name(show, socket) }
        when "safe" then row.safe ? "yes" : "no"
        else row.public_send(column)
        end
      end

      # As it is said; by its id where another socket is said so, too.
      def socket_name(show, socket)
        label = show.rig.label(socket)
        (sockets(show)[label.downcase].size == 1) ? label : socket
      end

      # Sockets as they are said, as they are said in short ("Box A 9"), and by their ids.
      #
      # @return [Hash{String => Array<String>}] name in small letters => ids
      def sockets(show)
        show.rig.once(:sockets_by_name) do
          named = show.rig.places.values.select { |place| place.family.name == "mic" && place.present? }.flat_map do |place|
            [show.rig.label(place.id), "#{place.device.name} #{place.number}", place.id].uniq.map { |name| [name.downcase, place.id] }
          end
          named.group_by(&:first).transform_values { |pairs| pairs.map(&:last).uniq.freeze }.freeze
        end
      end

      # @param bytes [String] a file as it came
      # @param replace [Boolean] whether rows that the file does not have go
      # @return [Plan]
      # @raise [BadInput] when it is no table at all
      def read(show, bytes, replace: false)
        table, columns, separator, encoding = table_of(bytes)
        Reading.new(show, columns.map { |one| one[:column] }, table.drop(1)).plan(separator: separator,
          encoding: encoding,
          columns: columns,
          replace: replace)
      end

      # What a list from elsewhere calls its channels; a line without a number has that of its place.
      #
      # @param bytes [String] a file as it came
      # @return [Hash{Integer => String}]
      # @raise [BadInput] when it is no table, or has no names
      def names(bytes)
        table, headings, = table_of(bytes)
        columns = headings.map { |one| one[:column] }
        cell = ->(cells, column) { columns.index(column)&.then { |at| cells[at] }.to_s.strip }
        named = table.drop(1).map.with_index(1) { |(_, cells), line| [cell[cells, "number"][/\d+/]&.to_i || line, cell[cells, "name"]] }
        named.reject { |_, name| name.empty? }.to_h
      end

      # @return [Array(Array, Array<Hash>, String, String)] records with their lines, headings with what each column is for,
      #   separator, encoding
      # @raise [BadInput] when it is no table, or has no names
      def table_of(bytes)
        text, encoding = decoded(bytes)
        separator = SEPARATORS.max_by { |one| text.lines.first.to_s.count(one) }
        table = parsed(text, separator)
        columns = (table.dig(0, 1) || []).map { |heading| {heading: heading.to_s, column: column_of(heading)} }
        return [table, columns, separator, encoding] if columns.any? { |one| one[:column] == "name" }

        raise BadInput.new(field: "csv", value: columns.map { |one| one[:heading] }.join(", "), allowed: "a first line with headings, one of them: name")
      end

      # @return [Array(String, String)] UTF-8, and what it was before
      def decoded(bytes)
        mark, encoding = MARKS.find { |one, _| bytes.b.start_with?(one) }
        return [bytes.byteslice(mark.bytesize..).force_encoding(encoding).encode("UTF-8", invalid: :replace, undef: :replace), encoding] if mark

        plain = bytes.dup.force_encoding("UTF-8").delete_prefix("\uFEFF")
        plain.valid_encoding? ? [plain, "UTF-8"] : [latin(bytes), "Latin-1"]
      end

      # Spreadsheets put quotes and dashes where Latin-1 has control characters (Windows-1252, as
      # the WHATWG Encoding Standard reads the label Latin-1 too); the few bytes that this has not
      # stay what they are.
      def latin(bytes)
        bytes.dup.force_encoding("Windows-1252").encode("UTF-8", fallback: ->(byte) { byte.ord.chr("ISO-8859-1").encode("UTF-8") })
      end

      # Every record with the line of the file that it begins on: a quoted cell may hold line ends.
      #
      # @return [Array<Array(Integer, Array<String, nil>)>]
      def parsed(text, separator)
        csv = CSV.new(text, col_sep: separator)
        table = []
        line = 1
        while (cells = csv.shift)
          table << [line, cells]
          line += csv.line.scan(/\r\n|\r|\n/).size
          raise BadInput.new(field: "csv", value: table.size, allowed: "at most #{LINES_MAX} lines") if table.size > LINES_MAX
        end
        table
      rescue CSV::MalformedCSVError => e
        raise BadInput.new(field: "csv line #{e.line_number}",
          value: text.lines[e.line_number - 1].to_s.chomp,
          allowed: "cells as RFC 4180 has them: #{e.message.sub(/ in line \d+\.?\z/, "")}")
      end

      def column_of(heading)
        plain = heading.to_s.strip.downcase
        HEADINGS.find { |_, names| names.include?(plain) }&.first
      end

      # @return [Object, nil] the value that a column's text stands for; nil where it stands
      #   for none
      def value(column, text)
        case column
        when "safe" then TRUTHS[text.downcase]
        when "phantom" then {true => "yes", false => "no"}.fetch(TRUTHS[text.downcase], text.downcase)
        when "kind" then Capture::Row::KINDS.find { |kind| kind.casecmp?(text) } || text
        when "colour", "stitch" then text.downcase
        else text
        end
      end
      private_class_method :cell, :table_of, :socket_name, :decoded, :latin, :parsed, :column_of
    end
  end
end

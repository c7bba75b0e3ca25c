# frozen_string_literal: true

module Loomshuttle
  module Paper
    # Prints patch sheets as PDF, to be read at arm's length in bad light: black on white, at
    # least 10 points, ruled lines. Every page says the show, the scene, the date, the page
    # and a short checksum of the patch, so that an old sheet is known for one.
    #
    #   Pdf.new(show, date: "2026-11-24", size: "A4").render   # => String of bytes
    class Pdf
      SIZES = {"A4" => "A4", "Letter" => "LETTER"}.freeze
      # Debian's fonts-dejavu-extra: wide coverage of letters, condensed for dense lists.
      FONTS = "/usr/share/fonts/truetype/dejavu"
      MARGIN_PT = 32
      TEXT_PT = 12
      SMALL_PT = 10
      # Lists with more columns are printed across the page.
      UPRIGHT_COLUMNS_MAX = 7
      private_constant :FONTS, :MARGIN_PT, :TEXT_PT, :SMALL_PT, :UPRIGHT_COLUMNS_MAX

      # @param keys [Array<String>] of Exchange::Sheets::KEYS
      # @param date [String] as it is to be printed
      # @param size [String] A4 or Letter
      # @param check [Linecheck::State, nil]
      # @raise [BadInput] for another size or sheet
      def initialize(show, date:, size: "A4", keys: Exchange::Sheets::KEYS, check: nil)
        raise BadInput.new(field: "size", value: size, allowed: SIZES.keys.join(", ")) unless SIZES.key?(size)

        unknown = keys - Exchange::Sheets::KEYS
        raise BadInput.new(field: "sheet", value: unknown.first, allowed: Exchange::Sheets::KEYS.join(", ")) if unknown.any?

        @heading = Exchange::Sheets.heading(show)
        @sheets = Exchange::Sheets.of(show, keys, check: check)
        @date = date
        @size = SIZES.fetch(size)
      end

      # @return [String]
      def render
        @pdf = Prawn::Document.new(page_size: @size,
          page_layout: layout(@sheets.first),
          margin: [MARGIN_PT, MARGIN_PT, MARGIN_PT + 20, MARGIN_PT],
          info: {Title: @heading[:show], Creator: "Loomshuttle"})
        use_fonts
        @pdf.text("Nothing is patched yet.") if @sheets.empty?
        @sheets.each_with_index { |sheet, i| print_sheet(sheet, i) }
        footers
        @pdf.render
      end

      private

      def use_fonts
        faces = {normal: "DejaVuSansCondensed.ttf", bold: "DejaVuSansCondensed-Bold.ttf"}.transform_values { |file| File.join(FONTS, file) }
        faces = faces.transform_values { |path| path.sub("Condensed", "") } unless faces.values.all? { |path| File.exist?(path) }
        @pdf.font_families.update("Sheet" => faces)
        @pdf.font("Sheet", size: TEXT_PT)
      end

      # Boxes follow each other on a page as long as there is room for some rows.
      def print_sheet(sheet, index)
        new_page = index.positive? && (sheet[:key] != @sheets[index - 1][:key] || @pdf.cursor < 180)
        @pdf.start_new_page(layout: layout(sheet)) if new_page
        @pdf.move_down(14) if index.positive? && !new_page
        @pdf.text(title(sheet), size: 17, style: :bold)
        @pdf.move_down(6)
        (sheet[:key] == "labels") ? print_labels(sheet) : print_table(sheet)
      end

      def layout(sheet) = (sheet && sheet[:columns].size > UPRIGHT_COLUMNS_MAX) ? :landscape : :portrait
      def title(sheet) = (sheet[:key] == "labels") ? "#{sheet[:title]}: labels" : sheet[:title]

      def print_table(sheet)
        return @pdf.text("Nothing here yet.") if sheet[:rows].empty?

        data = [sheet[:columns], *sheet[:rows].map { |row| row.map { |cell| cell.to_s.scrub("?") } }]
        @pdf.table(data,
          header: true,
          width: @pdf.bounds.width,
          column_widths: widths(sheet),
          cell_style: {size: TEXT_PT, padding: [4, 4], borders: [:bottom], border_width: 0.6}) do |table|
          table.row(0).style(font_style: :bold, border_width: 1.5)
          table.rows(1..-1).columns(1).style(font_style: :bold)
        end
      end

      # Numbers get narrow columns, names and notes what is left.
      def widths(sheet)
        narrow = {"No." => 34,
                  "48 V" => 50,
                  "Channel" => 60,
                  "Lane" => 42,
                  "Socket" => 54,
                  "Output" => 56,
                  "Level dB" => 70,
                  "Tap" => 90,
                  "Delay ms" => 66,
                  "Track" => 46,
                  "Armed" => 52,
                  "Return lane" => 80,
                  "Stand" => 78,
                  "Source" => 120,
                  "Plugged in at" => 110}
        sheet[:columns].each_with_index.filter_map { |name, i| [i, narrow[name]] if narrow[name] }.to_h
      end

      # Eight to a line, as sockets stand on a box, to be cut out along the lines.
      def print_labels(sheet)
        cells = sheet[:rows].map { |number, label, _| "#{number}\n#{label.to_s.scrub("?")[0, 18]}" }
        @pdf.table(cells.each_slice(8).map { |line| line + [""] * (8 - line.size) },
          width: @pdf.bounds.width,
          column_widths: [@pdf.bounds.width / 8] * 8,
          cell_style: {size: SMALL_PT, align: :center, padding: [4, 2], height: 50, overflow: :shrink_to_fit, min_font_size: 7})
      end

      def footers
        left = "#{@heading[:show]}#{", #{@heading[:venue]}" unless @heading[:venue].empty?} · #{@heading[:scene]} · #{@date}"
        @pdf.repeat(:all, dynamic: true) do
          # Pages lie upright or across: each has a width of its own.
          @pdf.canvas do
            width = @pdf.bounds.width - 2 * MARGIN_PT
            @pdf.text_box(left, at: [MARGIN_PT, MARGIN_PT + 8], width: width - 190, height: 14, size: SMALL_PT, overflow: :truncate)
            @pdf.text_box("patch #{@heading[:checksum]} · page #{@pdf.page_number} of #{@pdf.page_count}",
              at: [MARGIN_PT + width - 185, MARGIN_PT + 8],
              width: 185,
              height: 14,
              size: SMALL_PT,
              align: :right)
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # Cells of a CSV file that a spreadsheet may open: what it would take for a formula goes behind an
    # apostrophe, as OWASP's note on CSV injection advises, and is read back without it.
    #
    #   Cells.written("=1+1")   # => "'=1+1"
    #   Cells.read("'=1+1")     # => "=1+1"
    module Cells
      RUN = /\A[=+\-@\t\r]/
      HELD = /\A'+[=+\-@\t\r]/
      # A plain number is no formula.
      NUMBER = /\A[+-]?\d+(?:[.,]\d+)?\z/
      private_constant :RUN, :HELD, :NUMBER

      module_function

      # @param value [Object]
      def written(value)
        return value unless value.is_a?(String)

        ((value.match?(RUN) && !value.match?(NUMBER)) || value.match?(HELD)) ? "'#{value}" : value
      end

      # @param text [String]
      def read(text) = text.match?(HELD) ? text[1..] : text
    end
  end
end

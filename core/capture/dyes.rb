# frozen_string_literal: true

module Loomshuttle
  module Capture
    # A group of sources has a colour and a stitch of its own: a row that comes to a group takes what the
    # group has, a new group takes what no other has, and what is changed for one row of a group is changed
    # for all that had the same.
    module Dyes
      module_function

      # @param before, after [Hash{String => Row}]
      # @param cells [Hash{String => Hash}] row id => what was written, string keys
      # @return [Hash{String => Row}] after, dyed
      def by_group(before, after, cells)
        cells.reduce(after) do |now, (id, columns)|
          row = now[id]
          next now if row.nil? || row.group.empty?

          dyed = columns.keys & %w[colour stitch]
          if dyed.any? then followed(before[id], now, row, dyed, cells)
          elsif columns.key?("group") && before[id]&.group != row.group then now.merge(id => joined(now, row))
          else now
          end
        end
      end

      def followed(was, now, row, columns, cells)
        return now unless was

        now.transform_values do |other|
          next other if other.group != row.group || cells.key?(other.id)

          alike = columns.map(&:to_sym).select { |column| other[column] == was[column] }
          alike.empty? ? other : other.with(**alike.to_h { |column| [column, row[column]] })
        end
      end

      def joined(now, row)
        fellow = now.each_value.find { |other| other.id != row.id && other.group == row.group }
        colour, stitch = fellow ? [fellow.colour, fellow.stitch] : own(now, row)
        row.with(colour: colour, stitch: stitch)
      end

      # A dye that somebody chose for the row becomes the group's.
      def own(now, row)
        return [row.colour, row.stitch] unless [row.colour, row.stitch] == PLAIN

        taken = now.each_value.reject { |other| other.group.empty? || other.group == row.group }.to_set { |other| [other.colour, other.stitch] }
        ALL.find { |dye| !taken.include?(dye) } || PLAIN
      end

      # One dye after the other, for what is dyed in turn.
      #
      # @return [Array(String, String)] colour, stitch
      def nth(place) = ALL[place % ALL.size]

      # What a row has that nobody dyed.
      PLAIN = %w[walnut solid].freeze
      # Colours one after the other before a stitch comes in; a double thread is a stereo pair's.
      ALL = (Row::STITCHES - ["double"]).flat_map { |stitch| Row::COLOURS.map { |colour| [colour, stitch] } }.freeze
      private_constant :PLAIN, :ALL
      private_class_method :followed, :joined, :own
    end
  end
end

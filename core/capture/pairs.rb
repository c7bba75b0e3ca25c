# frozen_string_literal: true

module Loomshuttle
  module Capture
    # Rows that look like the two sides of one stereo source, by their names alone: "Overhead L" and
    # "Overhead R", "Keys left" and "Keys right"; "Keys 1" and "Keys 2" may be two of a kind as well,
    # so they are offered with less confidence (common practice).
    #
    #   Pairs.offered(show.rows)   # => [Pairs::Offer(rows: ["list/row/7", "list/row/8"], sure: true)]
    module Pairs
      # rows  the left and the right side
      # sure  whether the names can mean nothing else
      Offer = Value.of(:rows, :sure)

      SIDES = {"l" => :left, "left" => :left, "r" => :right, "right" => :right, "1" => :one, "2" => :two}.freeze
      # A side stands behind the name, set off by anything but a letter or digit.
      BEHIND = /\A(?<stem>.*\S)[\s_.(\[\-–]+(?<side>l|r|left|right|\d+)[)\]]?\z/i
      BEFORE = /\A(?<side>left|right)\s+(?<stem>\S.*)\z/i
      private_constant :SIDES, :BEHIND, :BEFORE

      module_function

      # @param rows [Hash{String => Row}]
      # @return [Array<Offer>] in the list's order; rows that have a pair already are left alone
      def offered(rows)
        sided(rows.values.reject(&:pair)).values.filter_map do |sides|
          pair = [%i[left right], %i[one two]].find { |wanted| sides.keys.sort == wanted.sort && sides.values.all?(&:one?) }
          Offer.new(rows: sides.values_at(*pair).map { |side| side.first.id }, sure: pair.first == :left) if pair
        end
      end

      # By what they are called without their side; numbers beyond 2 say that they are no pair.
      def sided(rows)
        found = rows.filter_map { |row| (match = BEHIND.match(row.name) || BEFORE.match(row.name)) && [match[:stem].downcase, match[:side].downcase, row] }
        found.group_by { |stem, side, _| [stem, side.match?(/\d/)] }.transform_values { |some|
          some.group_by { |_, side, _|
            SIDES.fetch(side, :other)
          }.transform_values { |all| all.map(&:last) }
        }
      end
      private_class_method :sided
    end
  end
end

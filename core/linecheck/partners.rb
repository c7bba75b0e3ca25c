# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # Sources that two microphones hear: the other side of a pair, and those that their names say, as "Kick in" and
    # "Kick out", "Bass DI" and "Bass mic".
    #
    #   Partners.of(show, "list/row/1")   # => ["list/row/2"]
    module Partners
      # Where a second microphone stands (common practice).
      PLACES = %w[in inside out outside top bottom over under upper lower front back rear near far di direct mic amp cab beater shell].freeze
      private_constant :PLACES

      module_function

      # @param row [String] id
      # @return [Array<String>] ids
      def of(show, row) = all(show).fetch(row, [])

      # @return [Hash{String => Array<String>}]
      def all(show)
        show.once(:partners) do
          named = show.rows.values.group_by { |row| source(row.name) }.except(nil).values.select { |rows| rows.size > 1 && rows.any? { |row| placed?(row.name) } }
          by_name = named.flat_map { |rows| rows.map { |row| [row.id, rows.map(&:id) - [row.id]] } }.to_h
          show.rows.values.to_h { |row| [row.id, [*row.pair, *by_name[row.id]].uniq.freeze] }.freeze
        end
      end

      # @return [Array<String>, nil] the words of a name but for where the microphone stands
      def source(name) = (words(name) - PLACES).then { |left| left unless left.empty? }
      def placed?(name) = words(name).intersect?(PLACES)
      def words(name) = Soundcheck::Matching::Title.split(name)
      private_class_method :all, :source, :placed?, :words
    end
  end
end

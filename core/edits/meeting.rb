# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Where two people's changes meet: what both of them changed, down to the field of a row. Two
    # columns of one row are two places; a row that one takes out meets whatever the other wrote in it.
    #
    #   Meeting.places(inverse, redo)    # => #<Set: {"rows/list/row/9#name"}>
    #   Meeting.any?(mine, theirs)
    module Meeting
      # Stands for all fields of a thing that came or went.
      WHOLE = "*"
      ORDER = "order"
      private_constant :WHOLE, :ORDER

      module_function

      # @param back, forth [Put] what takes a change back, and what makes it
      # @return [Set<String>] "part/key#field"
      def places(back, forth)
        back, forth = [back, forth].map { |put| JSON.parse(JSON.generate(put.to_data)).values_at("parts", "order") }
        changed = (back[0].keys | forth[0].keys).flat_map { |part| of_part(part, back[0].fetch(part, {}), forth[0].fetch(part, {})) }
        (changed + forth[1].flat_map { |part, moves| moves.map { |key, _| "#{part}/#{key}##{ORDER}" } }).to_set
      end

      # @param one, other [Set<String>]
      def any?(one, other)
        one.intersect?(other) || [[one, other], [other, one]].any? { |whole, parts| wholes(whole).intersect?(parts.map { |place| stem(place) }.to_set) }
      end

      def of_part(part, before, after)
        (before.keys | after.keys).flat_map do |key|
          was, is = before[key], after[key]
          fields = (was.is_a?(Hash) && is.is_a?(Hash)) ? (was.keys | is.keys).reject { |field| was[field] == is[field] } : [WHOLE]
          fields.map { |field| "#{part}/#{key}##{field}" }
        end
      end

      def wholes(places) = places.select { |place| place.end_with?("##{WHOLE}") }.to_set { |place| stem(place) }
      def stem(place) = place.rpartition("#").first
      private_class_method :of_part, :wholes, :stem
    end
  end
end

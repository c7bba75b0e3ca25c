# frozen_string_literal: true

module Loomshuttle
  class Show
    # The order of keys as content: which keys another order moved, each with the key that it
    # stands behind now. A key that only made room for another was not moved.
    #
    #   Order.moves(%w[a b c d], %w[d a b c])         # => [["d", nil]]
    #   Order.after({"a" => 1, "d" => 2}, [["d", nil]])   # => {"d" => 2, "a" => 1}
    module Order
      module_function

      # @param before, after [Array<String>]
      # @return [Array<Array(String, String or nil)>] in the order of `after`
      def moves(before, after)
        return [] if before == after

        stay = longest_rising(after.filter_map { |key| before_at(before)[key] }).to_set { |at| before[at] }
        (after - stay.to_a).map { |key| [key, after.index(key).then { |at| at.zero? ? nil : after[at - 1] }] }
      end

      # @param values [Hash]
      # @param moves see above; what is not there is passed over, and what should stand behind
      #   something that is gone goes to the end
      # @return [Hash] the same values in that order
      def after(values, moves)
        return values if moves.empty?

        keys(values.keys, moves).to_h { |key| [key, values[key]] }
      end

      # @return [Array<String>]
      def keys(all, moves)
        moving = moves.map(&:first) & all
        moves.to_h.slice(*moving).each_with_object(all - moving) do |(key, before), order|
          at = before ? order.index(before)&.succ : 0
          order.insert(at || order.size, key)
        end
      end

      def before_at(before) = before.each_with_index.to_h

      # Patience sorting: for each length the chain that ends lowest.
      #
      # @param numbers [Array<Integer>] all different
      # @return [Array<Integer>] the longest of its parts that rises
      def longest_rising(numbers)
        ends, behind = [], {}
        numbers.each do |number|
          length = ends.bsearch_index { |last| last > number } || ends.size
          behind[number] = length.zero? ? nil : ends[length - 1]
          ends[length] = number
        end
        chain = []
        number = ends.last
        while number
          chain.unshift(number)
          number = behind[number]
        end
        chain
      end
      private_class_method :before_at, :longest_rising
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Words
    # Words for sets of numbered places: [9, 10, 11, 14] is "9–11, 14".
    module Runs
      module_function

      # @param numbers [Array<Integer>]
      # @return [String]
      def text(numbers)
        numbers.sort.slice_when { |a, b| b != a + 1 }.map { |run| (run.size > 1) ? "#{run.first}–#{run.last}" : run.first.to_s }.join(", ")
      end

      def of(ids) = text(ids.map { |id| Endpoint.parse(id).number })

      # "Box A socket 1–6 and local socket 3".
      def places(show, ids)
        ids.group_by { |id| show.label(id).sub(/ \d+\z/, "") }.map { |words, some| "#{words} #{of(some)}" }.join(" and ")
      end

      # " of Quay desk" where there are several desks.
      def desk(show, desk) = (show.rig.all_of("desk").size > 1) ? " of #{desk.name}" : ""

      def plural(word, items) = (items.size == 1) ? word : "#{word}s"
    end
  end
end

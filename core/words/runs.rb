# frozen_string_literal: true

module Loomshuttle
  module Words
    # Words for sets of places and names: [9, 10, 11, 14] is "9–11, 14".
    module Runs
      module_function

      # @param numbers [Array<Integer>]
      # @return [String]
      def text(numbers)
        numbers.sort.slice_when { |a, b| b != a + 1 }.map { |run| (run.size > 1) ? "#{run.first}–#{run.last}" : run.first.to_s }.join(", ")
      end

      def of(ids) = text(ids.map { |id| Endpoint.number(id) })

      # "Box A socket 1–6 and local socket 3"; rows and roles by their names.
      def places(show, ids)
        numbered, named = ids.uniq.partition { |id| show.rig.named?(id) }
        runs = numbered.group_by { |id| show.rig.label(id).sub(/ ?\d+\z/, "") }.map { |words, some| "#{words} #{of(some)}" }
        list(runs + named.map { |id| show.label(id) })
      end

      # Channels as people say them, with their desk where there are several: "channels 1–3 of FOH
      # and channel 5 of Monitors".
      def channels(show, ids)
        by_desk = show.rig.by_device(ids.uniq) { |id| id }
        list(by_desk.map { |desk, some| "#{plural("channel", some)} #{of(some)}#{desk(show, desk)}" })
      end

      # " of Quay desk" where there are several desks.
      def desk(show, desk) = (show.rig.all_of("desk").size > 1) ? " of #{desk.name}" : ""

      # "A, B and 4 more".
      def names(all, most = 6) = (all.size > most) ? "#{all.first(most).join(", ")} and #{all.size - most} more" : list(all)

      # "A, B and C".
      def list(words) = (words.size > 1) ? "#{words[0..-2].join(", ")} and #{words.last}" : words.first.to_s

      def plural(word, items) = (items.size == 1) ? word : "#{word}s"

      # "1 cable", "2 cables".
      def count(number, word) = "#{number} #{(number == 1) ? word : "#{word}s"}"

      # The first letter alone: names keep theirs.
      def capital(text) = text.empty? ? text : text[0].upcase + text[1..]
    end
  end
end

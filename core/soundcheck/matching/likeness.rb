# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    module Matching
      # How well a file's title fits a track's, from 0 to 1, and why.
      #
      #   Likeness.new.of(file_title, track_title, 7)   # => [0.93, "another spelling"]
      #
      # It remembers words that it has compared: a folder has few different ones.
      class Likeness
        # A channel's number alone says less than a name.
        BY_NUMBER = 0.8
        # Two names that agree, and their numbers too.
        NUMBER_ADDS = 0.03
        # One says a side, or "2", the other says another; or says none.
        OTHER_SIDE = 0.2
        NO_SIDE = 0.9
        # Words of one kind that one side has more.
        EACH_MORE = 0.25
        # Written as one word it is spelt so much alike; a longer name than that is another.
        JOINED = 0.9
        # What leaves out so little is misspelt, not abbreviated.
        SKELETON = 0.7
        REASONS = {same: "the same name", order: "the same words", meaning: "means the same", short: "an abbreviation",
                   spelling: "another spelling", number: "by its number", part: "a part of the name"}.freeze
        private_constant :BY_NUMBER, :NUMBER_ADDS, :OTHER_SIDE, :NO_SIDE, :EACH_MORE, :JOINED, :SKELETON, :REASONS

        def initialize
          @letters = {}
          @pairs = Hash.new { |all, word| all[word] = {} }
        end

        # @param file, track [Title]
        # @param number [Integer] of the track's channel
        # @return [Array(Float, String)]
        def of(file, track, number)
          return by_number(file, number) unless file.named?

          score, reason = names(file, track)
          score *= sides(file.side, track.side) * sides(file.index, track.index)
          score = [score + NUMBER_ADDS, 1.0].min if file.number == number && score.positive? && score < 1
          [score, REASONS.fetch(reason)]
        end

        # @return [Array(Float, Symbol)] of two words
        def words(one, other) = @pairs[one][other] ||= compared(one, other).freeze

        private

        def by_number(file, number) = [((file.number || file.index) == number) ? BY_NUMBER : 0.0, REASONS[:number]]

        def sides(one, other)
          return 1.0 if one == other

          (one && other) ? OTHER_SIDE : NO_SIDE
        end

        # The best that each word of the shorter name finds in the longer one, each used once.
        def names(file, track)
          return [1.0, :same] if file.words == track.words
          return [0.98, :order] if file.sorted == track.sorted || file.joined == track.joined

          short, long = (track.words.size < file.words.size) ? [track, file] : [file, track]
          found = placed(short.words, long.words)
          more = long.words.size - short.words.size
          score = found.sum { |one, _| one } / found.size * [1 - EACH_MORE * more, 0.5].max
          kind = found.min_by(&:first).last
          best([score, (more.positive? && kind == :same) ? :part : kind], joined(file, track, more))
        end

        def best(one, other) = (other[0] > one[0]) ? other : one

        # "hurdygrdy" and "hurdy gurdy".
        def joined(file, track, more)
          score = more.zero? ? 0.0 : spelling(file.joined, track.joined)
          [(score >= JOINED) ? score * 0.98 : 0.0, :spelling]
        end

        def placed(short, long)
          free = long.dup
          short.map do |word|
            found = free.map { |other| words(word, other) }
            at = found.each_index.max_by { |index| found[index].first }
            free.delete_at(at)
            found[at]
          end
        end

        def compared(one, other)
          return [1.0, :same] if one == other
          return [0.92, :meaning] if (TradeWords.meanings(one) & TradeWords.meanings(other)).any?
          return [short_score(one, other), :short] if short?(one, other) || short?(other, one)

          [spelling(one, other), :spelling]
        end

        # The beginning of the other, or its consonants in their order: "hrdy", "acc", "snr".
        def short?(short, long)
          return false unless short.size.between?(2, long.size - 1) && short[0] == long[0]
          return true if long.start_with?(short)

          return false if short.size > long.size * SKELETON

          at = -1
          short.each_char.all? { |char| at = long.index(char, at + 1) } && short.size >= 3
        end

        def short_score(one, other)
          short, long = [one, other].minmax_by(&:size)
          long.start_with?(short) ? 0.7 + 0.25 * short.size / long.size : 0.65 + 0.2 * short.size / long.size
        end

        # Pairs of letters that both have (Dice's coefficient), with both ends.
        def spelling(one, other)
          a, b = letters(one), letters(other)
          # So much longer, it cannot come near whatever the letters are.
          return 0.0 if a.size > 3 * b.size || b.size > 3 * a.size

          2.0 * (a & b).size / (a.size + b.size)
        end

        def letters(word) = @letters[word] ||= "^#{word}$".each_char.each_cons(2).map { |one, other| one.ord * 65_536 + other.ord }.uniq
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    module Matching
      # What a name says, taken apart: of a file, or of a track.
      #
      #   Title.of("07_Overhead-L.wav")   # => Title(words: ["overhead"], side: :left, number: 7, index: nil)
      #
      # words   lower case, without accents; nothing of the rest
      # side    :left, :right or nil
      # number  of a channel, where it is said in front or behind "track", "ch"; nil
      # index   the number that a name ends with, "Tom 2"; nil
      class Title < Value.of(:words, :side, :number, :index)
        include Value::Memo

        ENDING = /\.(wav|wave|bwf|rf64|aif|aiff|flac)\z/i
        SIDES = {"l" => :left, "left" => :left, "li" => :left, "links" => :left, "r" => :right, "right" => :right, "re" => :right, "rechts" => :right}.freeze
        CHANNEL = /\A(?:track|trk|audio|aud|spur|channel|chan|kanal|input|inp|ch|in|tr)\z/
        private_constant :ENDING, :SIDES, :CHANNEL

        class << self
          # @param text [String]
          # @param drop [Array<String>] words that all names of a folder have in common, and say nothing
          def of(text, drop: [])
            words = split(text)
            words -= drop if (words - drop).any?
            number, words = numbered(words)
            side = SIDES[words.last] if words.size > 1
            words = words[0..-2] if side
            index = words.last.to_i if words.size > 1 && words.last.match?(/\A\d{1,3}\z/)
            words = words[0..-2] if index
            new(words: words.freeze, side: side, number: number, index: index)
          end

          # Small letters without accents, cut where kinds of characters meet.
          #
          # @return [Array<String>]
          def split(text)
            plain = text.sub(ENDING, "").gsub("ß", "ss").gsub(/(?<=[a-zäöü])(?=[A-ZÄÖÜ])/, " ").unicode_normalize(:nfd).gsub(/\p{Mn}/, "").downcase
            plain.scan(/\p{L}+|\d+/)
          end

          private

          # In front ("07 Kick"), or behind a word for a channel ("Track 07").
          def numbered(words)
            return [words[0].to_i, words.drop(1)] if words.size > 1 && words[0].match?(/\A\d{1,3}\z/)
            return [words[1].to_i, words.drop(2)] if words.size > 1 && words[0].match?(CHANNEL) && words[1].match?(/\A\d{1,3}\z/)
            return [words[0].to_i, []] if words.size == 1 && words[0].match?(/\A\d{1,3}\z/)

            [nil, words]
          end
        end

        def named? = words.any?

        # For comparing.
        def sorted = once(:sorted) { words.sort }
        def joined = once(:joined) { words.join }
      end
    end
  end
end

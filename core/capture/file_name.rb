# frozen_string_literal: true

module Loomshuttle
  module Capture
    # Safe file names from any track name. The name itself is never lost: it stands in the
    # file's iXML chunk and in the take's journal.
    module FileName
      # Bytes that every file system takes in one name (255), less room for number and ending.
      BYTES_MAX = 200
      private_constant :BYTES_MAX

      module_function

      # @param number [Integer] of the track, which keeps two alike names apart
      # @return [String] e.g. "09 Accordion.wav"
      def of(number, name)
        format("%02d %s.wav", number, safe(name, "track"))
      end

      # Whether it names one file in a folder, and nothing above or below it.
      def plain?(name) = name.is_a?(String) && name.bytesize.between?(1, 255) && !name.match?(%r{[/\0]}) && !%w[. ..].include?(name)

      # Whether a name stands in a file's name as it is.
      def keeps?(name) = name.match?(/\A[A-Za-z0-9](?:[A-Za-z0-9 _-]*[A-Za-z0-9])?\z/) || safe(name, "") == name.unicode_normalize(:nfc)

      # @return [String] what both sides of a pair are called together: "Overhead" of
      #   "Overhead L" and "Overhead R"
      def common(left, right)
        shared = left.chars.zip(right.chars).take_while { |one, other| one == other }.map(&:first).join
        plain = shared.sub(/[\s(_.-]+\z/, "")
        plain.strip.empty? ? "#{left} + #{right}" : plain
      end

      # @param name [String] any name of a file made elsewhere
      # @param taken [#include?] file names that are there already
      # @param endings [Regexp] those that it may keep; another one becomes part of the name
      # @param next_copy [Hash{String => Integer}] where the search for a copy of a name goes on; filled here
      # @return [String] a safe name of its own, with the file's ending
      def imported(name, taken, next_copy = {}, endings: /\.(wav|wave|bwf|rf64)\z/i)
        name = name.scrub("-")
        ending = name[endings] || ".wav"
        base = safe(name.delete_suffix(ending), "file")
        copied = ->(copy) { (copy == 1) ? base + ending : "#{base} (#{copy})#{ending}" }
        copy = (next_copy.fetch(copied[1], 1)..).find { |one| !taken.include?(copied[one]) }
        next_copy[copied[1]] = copy + 1
        copied[copy]
      end

      # @return [Array<String>] a name for each of several such files, no two alike
      def all_imported(names, **how)
        taken, next_copy = Set.new, {}
        names.map { |name| imported(name, taken, next_copy, **how).tap { |own| taken << own } }
      end

      # @param otherwise [String] where nothing of it is left
      # @return [String] what every file system takes
      def safe(name, otherwise)
        plain = name.unicode_normalize(:nfc).gsub(%r{[/\\:*?"<>|[:cntrl:]]}, "-").gsub(/[^\p{L}\p{N}\p{P}\p{S} ]/, "-").strip
        cut(plain.gsub(/\A[. ]+|[. ]+\z/, "")).then { |text| text.empty? ? otherwise : text }
      end

      # @return [String] a folder's name from any text: letters, digits and dashes
      def folder(text)
        plain = text.unicode_normalize(:nfkd).downcase.gsub(/[^a-z0-9]+/, "-").gsub(/\A-+|-+\z/, "")
        plain.empty? ? "unnamed" : plain[0, 60]
      end

      # @param show [String] the show's own folder
      # @return [String] where a take's files stand, below the data folder
      def take(show, number) = Kernel.format("%s/take-%03d", show, number)

      def cut(text)
        text = text[0..-2] while text.bytesize > BYTES_MAX
        text
      end
      private_class_method :cut
    end
  end
end

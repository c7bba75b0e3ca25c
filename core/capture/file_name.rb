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
        safe = name.unicode_normalize(:nfc).gsub(%r{[/\\:*?"<>|[:cntrl:]]}, "-").gsub(/[^\p{L}\p{N}\p{P}\p{S} ]/, "-").strip
        safe = cut(safe.gsub(/\A[. ]+|[. ]+\z/, ""))
        format("%02d %s.wav", number, safe.empty? ? "track" : safe)
      end

      # @return [String] a folder's name from any text: letters, digits and dashes
      def folder(text)
        plain = text.unicode_normalize(:nfkd).downcase.gsub(/[^a-z0-9]+/, "-").gsub(/\A-+|-+\z/, "")
        plain.empty? ? "unnamed" : plain[0, 60]
      end

      def cut(text)
        text = text[0..-2] while text.bytesize > BYTES_MAX
        text
      end
      private_class_method :cut
    end
  end
end

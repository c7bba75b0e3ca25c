# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Puts the files of a recording made elsewhere on the tracks that their names say. A
    # name matches when it is the same but for case, punctuation and a number in front; a
    # stereo file matches the two sides of a pair.
    #
    #   Matching.match(tracks, [{name: "01_hurdy gurdy.wav", channels: 1}])
    module Matching
      module_function

      # @param tracks [Array<Capture::Track>]
      # @param files [Array<Hash>] {name:, channels:, title: what it was called, if not so}
      # @return [Hash] matched: [{file:, channel:, track:}], loose: [{file:, channel:}] that
      #   no name claims, unfilled: [track id]
      def match(tracks, files)
        free = tracks.to_h { |track| [plain(track.name), track.id] }
        parts = files.flat_map { |file|
          (1..file[:channels]).map do |channel|
            {file: file[:name], title: file[:title] || file[:name], channel: channel, of: file[:channels]}
          end
        }
        matched, loose = parts.map { |part| part.merge(track: free.delete(wanted(part))) }.partition { |part| part[:track] }
        {matched: matched.map { |part| part.slice(:file, :channel, :track) }, loose: loose.map { |part| part.slice(:file, :channel) },
         unfilled: tracks.map(&:id) - matched.map { |part| part[:track] }}
      end

      # @return [String] a name without number in front, file ending, case and punctuation
      def plain(name)
        name.sub(/\.(wav|wave|bwf|rf64)\z/i, "").sub(/\A(track|trk|ch)?[\s_.-]*\d+[\s_.-]+/i, "").downcase.gsub(/[^\p{L}\p{N}]+/, " ").strip
      end

      SIDES = {1 => "l", 2 => "r"}.freeze
      private_constant :SIDES

      def wanted(part) = (part[:of] == 2) ? "#{plain(part[:title])} #{SIDES[part[:channel]]}" : plain(part[:title])
      private_class_method :wanted
    end
  end
end

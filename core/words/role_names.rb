# frozen_string_literal: true

module Loomshuttle
  module Words
    # What a stem is, by what its file is called. Which words people use is common practice.
    #
    #   RoleNames.guess("03 Bass DI.wav", %w[click bass])   # => "bass"
    #   RoleNames.of("Lead Vox!")                           # => "lead-vox"
    module RoleNames
      # Role => words that mean it, the more telling ones first.
      WORDS = {
        "click" => %w[click metronome clk], "cue" => %w[cue cues guide talkback count countin], "drums" => %w[drums drum kit kick snare toms overheads],
        "percussion" => %w[percussion perc shaker tambourine congas bongos], "bass" => %w[bass sub], "guitar" => %w[guitar guitars gtr acoustic electric],
        "keys" => %w[keys keyboard piano organ rhodes synth synths pad pads], "strings" => %w[strings violin violins viola cello],
        "brass" => %w[brass horns trumpet trombone sax], "choir" => %w[choir bvs bv backing backings gang], "vocals" => %w[vocals vocal vox voice lead],
        "effects" => %w[effects fx sfx noise atmo], "mix" => %w[mix full stereo master 2mix instrumental]
      }.freeze
      LENGTH_MAX = 60
      private_constant :WORDS, :LENGTH_MAX

      module_function

      # @param file [String] with or without ending
      # @param known [Array<String>] roles of the library: one whose whole name stands in it comes first
      # @return [String] a role's name; what no word says is called after the file
      def guess(file, known)
        plain = of(file.sub(/\.\w{2,4}\z/, "").sub(/\A\d+[\s_.-]+/, ""))
        said = plain.split("-")
        named = known.select { |role| " #{said.join(" ")} ".include?(" #{role.tr("-", " ")} ") }.max_by(&:size)
        named || WORDS.find { |_, words| (words & said).any? }&.first || plain
      end

      # @return [String] any name as a role is written: small letters, digits and dashes
      def of(name)
        plain = name.unicode_normalize(:nfkd).gsub(/\p{M}/, "").downcase.gsub(/[^a-z0-9]+/, "-").gsub(/\A-+|-+\z/, "")[0, LENGTH_MAX].to_s.sub(/-+\z/, "")
        plain.empty? ? "stem" : plain
      end
    end
  end
end

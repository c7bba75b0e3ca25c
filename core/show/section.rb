# frozen_string_literal: true

module Loomshuttle
  class Show
    # A part of a song that has a name: from its bar to the next one's, or to the song's end.
    #
    # note  for whoever stands on stage: words, or what is to be done
    Section = Value.of(:id, :name, :bar, colour: nil, note: "") do
      # @param given [Array<Hash>] string keys: id, name, bar, colour
      # @return [Array<Section>] by bar
      # @raise [BadInput]
      def self.all_of(given)
        sections = given.map { |one| new(**one.transform_keys(&:to_sym)) }.sort_by(&:bar)
        twice = sections.map(&:bar).tally.find { |_, count| count > 1 } || sections.map(&:id).tally.find { |_, count| count > 1 }
        raise BadInput.new(field: "sections", value: twice.first, allowed: "each bar, and each id, once") if twice

        sections.freeze
      end
    end
  end
end

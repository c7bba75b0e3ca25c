# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What of a soundcheck every page sees the same, beside the show: what was proved, what is done by hand.
    #
    # proof   Proof that was heard last; nil before the first
    # muted   channels that were muted for a ping that runs, or broke off before they were opened again
    State = Value.of(proof: nil, muted: [].freeze)

    class State
      def self.from_data(data) = new(proof: data["proof"] && Proof.from_data(data["proof"]), muted: data.fetch("muted", []).freeze)

      def to_data = {proof: proof&.to_data, muted: muted}

      # What findings read of it.
      #
      # @return [Hash, nil] see Checks::Facts; nil where nothing was heard of the patch as it is
      def facts(show)
        return nil unless proof&.holds?(show)

        wrong = proof.quick ? [] : proof.lanes(show).select(&:wrong?)
        {wrong: wrong.map { |one| [one.lane, one.state, one.faults] }, places: wrong.flat_map { |one| one.heard.map(&:channel) + one.planned }.uniq,
         heard: proof.feed(show), said: ProofWords.of(show, proof)}
      end
    end
  end
end

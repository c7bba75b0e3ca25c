# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What of a soundcheck every page sees the same, beside the show: what was proved, what is done by hand, what the patch
    # was before the desk was turned to the recorder.
    #
    #   State.new.swung(before, after, by_hand: true).ticked(0, "Ilse")
    #
    # proof     Proof that was heard last; nil before the first
    # muted     channels that were muted for a ping that runs, or broke off before they were opened again
    # stage     Patch::Scene before the swing to the recorder; nil before the first
    # steps     Step of the last swing, for a desk that could not be told; steps_to where they lead, "recorder" or "stage"
    # known     {Matching.keys of a file's channel => track} that somebody settled by hand, for the next folder of its kind
    # doors_at  when the desk is to be back on the stage (UTC, ISO 8601); nil for never
    State = Value.of(proof: nil, muted: [].freeze, stage: nil, steps: [].freeze, steps_to: nil, doors_at: nil, known: {}.freeze)

    class State
      # words of Steps; done_by  whoever ticked it, nil while it is to be done
      Step = Value.of(:words, done_by: nil)

      def self.from_data(data)
        new(proof: data["proof"] && Proof.from_data(data["proof"]), muted: data.fetch("muted", []).freeze, stage: data["stage"] && Show::Parts.patch(data["stage"]),
          steps: data.fetch("steps", []).map { |step| Step.new(words: step["words"], done_by: step["done_by"]) }.freeze, steps_to: data["steps_to"], doors_at: data["doors_at"],
          known: data.fetch("known", {}).freeze)
      end

      def to_data = {**to_h, proof: proof&.to_data, stage: stage && Show::Parts.patch_data(stage), steps: steps.map(&:to_h)}

      # @param before, after [Show] of a swing
      # @param by_hand [Boolean] the desk could not be told
      def swung(before, after, by_hand:)
        feeds = [before, after].map { |show| Signal::Feed.of_desk(show) }
        steps = by_hand ? Steps.of(before, after).map { |words| Step.new(words: words) } : []
        with(stage: (feeds == %i[stage recorder]) ? before.patch : stage, steps_to: feeds.last.to_s, steps: steps.freeze)
      end

      # @param at [Integer] of the step, from 0
      # @param who [String, nil] nil takes the tick off
      def ticked(at, who)
        step = steps[at] or raise BadInput.new(field: "step", value: at, allowed: steps.empty? ? "a swing that is done by hand" : "0 to #{steps.size - 1}")
        with(steps: steps.dup.tap { |all| all[at] = step.with(done_by: who) }.freeze)
      end

      # Steps as long as they lead where the plan is: one that was undone leads nowhere.
      def steps_now(show) = (steps_to == Signal::Feed.of_desk(show).to_s) ? steps : []

      # What is another than before the desk was turned to the recorder.
      #
      # @return [Array<Hash>, nil] as Compare::Patches; nil while it is there, or where it never was
      def changed_since_stage(show)
        Compare::Patches.of(show, stage, show.patch, was: "before the soundcheck") if stage && Signal::Feed.of_desk(show) == :stage
      end

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

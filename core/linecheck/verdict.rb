# frozen_string_literal: true

module Loomshuttle
  module Linecheck
    # What was found out about a source, as data; its words are made of today's names (Said).
    #
    # place   "right", "elsewhere", "nothing" (nobody heard it anywhere), "skipped"
    # lane    on which it came in, from 1; nil where it did not
    # peak_dbfs  how loud
    # faults  "clipped", "low", "hum", "polarity" and "alike", with their figures: [{kind: "hum", hz: 50, over_db: 21.0}];
    #   elsewhere "partner": its other microphone hears it, and nobody else does
    # way     Way#digest that it is about: with another way the source is open again
    # who, at whoever checked, and when (ISO 8601)
    Verdict = Value.of(:place, :way, :who, :at, lane: nil, peak_dbfs: nil, faults: [].freeze) do
      def self.from_data(data) = new(**data.transform_keys(&:to_sym), faults: data.fetch("faults", []).map { |fault| fault.transform_keys(&:to_sym) })
      def to_data = to_h

      # Heard where it belongs, and nothing wrong with it.
      def fine? = place == "right" && faults.empty?
      def skipped? = place == "skipped"
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Runtime
    # A process that does not answer: it is not there, hangs, or closed the line.
    class Gone < StandardError
      # @return [String] who does not answer, e.g. "the audio engine"
      attr_reader :who

      def initialize(who, why)
        @who = who
        super("#{who} does not answer (#{why})")
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    # Something that is not done without a second word: it would hurt a take that runs, or record while the desk
    # listens to the recorder. Whoever asks again with that field true has been told.
    class Needed < StandardError
      # @return [String] "during_take" or "on_recorder"
      attr_reader :field

      def initialize(message, field: "during_take")
        super(message)
        @field = field
      end
    end
  end
end

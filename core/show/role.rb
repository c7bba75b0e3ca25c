# frozen_string_literal: true

module Loomshuttle
  class Show
    # What a stem is, and so where it goes. A private role (click, cue) is for performers
    # and never for the audience.
    #
    # pair     laid on two lanes, left and right, unless somebody says otherwise
    # gain_db  as usual, see Terms
    # fold_db  as usual, see Terms
    # usual    numbers of the lanes on which it usually lies, whatever the show
    Role = Value.of(:name, hidden: false, pair: false, gain_db: 0.0, fold_db: -6.0, usual: [].freeze) do
      def endpoint = Endpoint.id("songs", "role", name)
      # Marked as hidden, or called what nobody in the audience may hear.
      def private? = hidden || name.match?(/\A(click|cue)/i)
      def lane_count = pair ? 2 : 1
      # @return [Hash] what is not as usual for any role
      def to_data = to_h.reject { |member, value| member != :name && value == self.class::USUAL[member] }
    end

    class Role
      # Laws by which two sides come on one lane: what is alike in both comes 3 or 1.5 dB louder than it was on one, or as loud (common practice).
      FOLDS_DB = [-3.0, -4.5, -6.0].freeze
      USUAL = new(name: nil).to_h.freeze
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  class Show
    # What a stem is, and so where it goes. A private role (click, cue) is for performers
    # and never for the audience.
    #
    # pair  laid on two lanes, left and right, unless somebody says otherwise
    Role = Value.of(:name, hidden: false, pair: false) do
      def endpoint = Endpoint.id("songs", "role", name)
    end
  end
end

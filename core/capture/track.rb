# frozen_string_literal: true

module Loomshuttle
  module Capture
    # A track of the recorder: `row` is the id of the source that it is meant for, which is
    # how a check can know that something else arrives.
    Track = Value.of(:id, :name, row: nil, armed: false) do
      def number = Endpoint.parse(id).number
    end
  end
end

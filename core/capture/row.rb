# frozen_string_literal: true

module Loomshuttle
  module Capture
    # One source of the input list. `pair` is the id of the other side of a stereo pair;
    # colour and stitch name the group's thread, so that colour is never the only sign.
    Row = Value.of(:id, :name, kind: "microphone", group: "", colour: "walnut", stitch: "solid", pair: nil) do
      def number = Endpoint.parse(id).number
    end
  end
end

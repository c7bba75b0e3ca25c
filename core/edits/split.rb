# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Marks a socket as feeding several channels on purpose, or takes the mark away.
    Split = Value.of(:socket, wanted: true) do
      def self.from_h(hash) = new(socket: hash.fetch("socket"), wanted: hash.fetch("wanted", true))
      def to_data = {kind: "split", socket: socket, wanted: wanted}

      def apply(show)
        return show.with(patch: show.patch.with_split(socket, wanted)) if show.rig.present?(socket)

        Refusal.new(field: "socket", value: socket, allowed: "a socket of this rig", why: "There is no #{socket} in this rig.")
      end

      def inverse(show) = with(wanted: show.patch.splits.include?(socket))
    end
  end
end

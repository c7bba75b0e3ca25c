# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Marks a socket as feeding several channels on purpose, or takes the mark away.
    Split = Edit.of("split", socket: :id, wanted: [:flag, true]) do
      def apply(show)
        return show.with(patch: show.patch.with_split(socket, wanted)) if show.rig.present?(socket)

        Refusal.new(field: "socket", value: socket, allowed: "a socket of this rig", why: "There is no #{socket} in this rig.")
      end
    end
  end
end

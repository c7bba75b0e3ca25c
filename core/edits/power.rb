# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Switches the phantom power of sockets on or off.
    Power = Edit.of("power", sockets: :ids, on: [:flag, true]) do
      def apply(show)
        wrong = sockets.find { |id| !show.rig.present?(id) || Endpoint.parse(id).family != "mic" }
        if wrong
          return Refusal.new(field: "sockets",
            value: wrong,
            allowed: "microphone sockets of this rig",
            why: "#{wrong} is no microphone socket of this rig.")
        end

        show.with(patch: sockets.reduce(show.patch) { |patch, id| patch.with_power(id, on) })
      end
    end
  end
end

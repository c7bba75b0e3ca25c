# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Switches the phantom power of sockets on or off.
    Power = Value.of(:sockets, on: true) do
      def self.from_h(hash) = new(sockets: Array(hash.fetch("sockets")), on: hash.fetch("on", true) == true)
      def to_data = {kind: "power", sockets: sockets, on: on}

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

      def inverse(show) = with(sockets: sockets.select { |id| show.patch.powered.include?(id) != on }, on: !on)
    end
  end
end

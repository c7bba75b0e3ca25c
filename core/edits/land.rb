# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Notes at which sockets a mix is meant to leave, so that a later re-patch that moves it
    # is found (check `landing`). With `sockets` nil the note is taken away.
    Land = Value.of(:mix, :sockets) do
      include Reversed

      def self.from_h(hash) = new(mix: hash.fetch("mix"), sockets: hash["sockets"])
      def to_data = {kind: "land", mix: mix, sockets: sockets}

      def apply(show)
        wrong = [mix, *sockets].find { |id| !show.rig.named?(id) }
        return Refusal.new(field: "mix", value: wrong, allowed: "places of this rig", why: "There is no #{wrong} in this rig.") if wrong

        show.with(landed: show.landed.merge(mix => sockets&.freeze).compact.freeze)
      end
    end
  end
end

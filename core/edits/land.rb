# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Notes at which sockets a mix is meant to leave, so that a later re-patch that moves it
    # is found (check `landing`). With `sockets` nil the note is taken away.
    Land = Edit.of("land", mix: :id, sockets: [:ids, nil]) do
      def apply(show)
        wrong = [mix, *sockets].find { |id| !show.rig.named?(id) }
        return Refusal.new(field: "mix", value: wrong, allowed: "places of this rig", why: "There is no #{wrong} in this rig.") if wrong

        show.with(landed: show.landed.merge(mix => sockets&.freeze).compact.freeze)
      end
    end
  end
end

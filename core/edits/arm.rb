# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Arms tracks for capture, or disarms them.
    Arm = Edit.of("arm", tracks: :ids, armed: :flag) do
      def apply(show)
        unknown = tracks.find { |id| !show.tracks.key?(id) }
        return refuse(unknown) if unknown

        show.with(tracks: show.tracks.merge(tracks.to_h { |id| [id, show.tracks[id].with(armed: armed)] }).freeze)
      end

      private

      def refuse(id) = Refusal.new(field: "tracks", value: id, allowed: "tracks of this show", why: "This show has no #{id}.")
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Arms tracks for capture, or disarms them.
    Arm = Value.of(:tracks, :armed) do
      def self.from_h(hash) = new(tracks: Array(hash.fetch("tracks")), armed: hash.fetch("armed") == true)
      def to_data = {kind: "arm", tracks: tracks, armed: armed}

      def apply(show)
        unknown = tracks.find { |id| !show.tracks.key?(id) }
        return refuse(unknown) if unknown

        show.with(tracks: show.tracks.merge(tracks.to_h { |id| [id, show.tracks[id].with(armed: armed)] }).freeze)
      end

      def inverse(show)
        by_state = tracks.group_by { |id| show.tracks.fetch(id).armed }
        Group.new(edits: by_state.map { |was, ids| Arm.new(tracks: ids, armed: was) })
      end

      private

      def refuse(id) = Refusal.new(field: "tracks", value: id, allowed: "tracks of this show", why: "This show has no #{id}.")
    end
  end
end

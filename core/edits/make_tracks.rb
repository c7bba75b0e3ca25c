# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Makes a track of every recorder slot at which a source arrives and that is no track yet:
    # named after the source, meant for it, armed. Tracks that are there stay as they are.
    MakeTracks = Edit.of("make_tracks", computer: :id) do
      def apply(show)
        device = show.rig.devices[computer]
        unless device&.profile&.kind == "computer"
          return refuse(show.rig.all_of("computer").map(&:id).join(", "), "There is no recording computer #{computer}.")
        end

        made = show.places(device, "track").filter_map { |slot| track(show, slot) }
        if made.empty?
          return refuse("a slot at which a new source arrives", "No source arrives at #{device.name} that has no track there yet.")
        end

        tracks = show.tracks.merge(made.to_h { |track| [track.id, track] })
        devices = show.rig.devices.keys
        show.with(tracks: tracks.sort_by { |_, track| [devices.index(track.recorder), track.number] }.to_h.freeze)
      end

      private

      def track(show, slot)
        row = show.rows[show.graph.line_back(slot).last]
        known = show.track_at(slot)
        return nil if row.nil? || known&.row

        known ? known.with(row: row.id) : Capture::Track.new(id: Ids.fresh("track-", row.id, computer, taken: show.tracks), place: slot, name: row.name, row: row.id, armed: true)
      end

      def refuse(allowed, why) = Refusal.new(field: "computer", value: computer, allowed: allowed, why: why)
    end
  end
end

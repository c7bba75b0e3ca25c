# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Brings tracks back on another track's return lane, summed with it, each at so many dB; beside: nil gives them up, and they
    # come back nowhere until they are laid again. All on one lane are played at the same.
    ShareReturn = Edit.of("share_return", tracks: :ids, beside: [:id, nil], sum_db: [:number, -3.0]) do
      def apply(show)
        fault = refusal(show)
        return fault if fault

        # The lanes that they had are free for others.
        lanes = show.patch.slots.select { |slot, pick| beside && slot.include?("/lane-out/") && tracks.include?(show.track_at(pick.from)&.id) }
        shared = tracks | (beside ? show.tracks.values.select { |track| track.beside == beside }.map(&:id) : [])
        made = shared.to_h { |id| [id, show.tracks[id].with(beside: beside&.dup&.freeze, sum_db: beside ? sum_db : 0.0)] }
        show.with(tracks: show.tracks.merge(made).freeze, patch: show.patch.with_slots(lanes.transform_values { nil }))
      end

      private

      def refusal(show)
        unknown = [*tracks, *beside].find { |id| !show.tracks.key?(id) }
        return refuse("tracks", unknown, "tracks of this show") if unknown || tracks.empty?
        return unless beside

        other = show.tracks[beside]
        return refuse("sum_db", sum_db, Capture::Track::SUM_DB.join(", ")) unless Capture::Track::SUM_DB.include?(sum_db)
        return refuse("beside", other.name, "another track that comes back on a lane of its own") if tracks.include?(beside) || other.beside || Signal::Returns.own_slots(show, other.place).empty?

        of_tracks(show, other)
      end

      def of_tracks(show, other)
        taken = tracks.map { |id| show.tracks[id] }.find { |track| track.recorder != other.recorder || Signal::Returns.beside(show).value?(track) }
        taken && refuse("tracks", taken.name, "tracks of the same recorder, beside whom no other comes back")
      end

      def refuse(field, value, allowed) = Refusal.new(field: field, value: value, allowed: allowed, why: "#{value || "Nothing"} cannot share that return: #{allowed}.")
    end
  end
end

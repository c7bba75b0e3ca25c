# frozen_string_literal: true

module Loomshuttle
  module Capture
    # How takes of a show are recorded, and what a take of it would be made of.
    #
    # encoding    "pcm24" or "float32"
    # preroll_s   seconds from before Record was pressed
    # carry_on    a take that was broken off goes on by itself
    # stereo      both sides of a pair into one file
    # copy        a second place: one of the engine's, nil for none
    # planned_s   how long the show will be, nil where nobody said
    # margin_mb   left free on each disk, MB of 10^6 bytes
    # round_trip_frames  measured from output to input; 0 where it was not
    Session = Value.of(encoding: "pcm24", preroll_s: 30, carry_on: true, stereo: true, copy: nil, planned_s: nil, margin_mb: 256, round_trip_frames: 0) do
      # @param given [Hash] string keys; what is missing is as usual
      def self.from_h(given) = new(**members.to_h { |name| [name, given[name.to_s]] }.reject { |name, _| !given.key?(name.to_s) })

      def margin_bytes = margin_mb * 1_000_000
      def sample_bytes = DiskBudget.sample_bytes(encoding)

      # @param show [Show]
      # @return [Array<TrackPlan>] of the recording computer's tracks that have a lane, armed or
      #   not: one that is not may be armed while the take runs
      def tracks(show)
        sides = recorder_tracks(show).filter_map { |track| [track, lane(show, track)] if lane(show, track) }
        taken = Set.new
        sides.filter_map do |track, lane|
          next unless taken.add?(track.id)

          other = stereo && right_side(show, track, sides)
          taken << other.first.id if other
          plan(track, lane, other)
        end
      end

      private

      # One engine records one computer; another computer's tracks are its own engine's.
      def recorder_tracks(show)
        recorder = show.tracks.values.find { |track| lane(show, track) }&.then { |track| track.recorder }
        show.tracks.values.select { |track| track.recorder == recorder }
      end

      def lane(show, track) = show.patch.slots[track.place]&.from&.then { |from| Endpoint.parse(from).number }

      # The other side of a pair goes into the same file where both are armed, or neither.
      def right_side(show, track, sides)
        other = show.rows[track.row]&.pair or return
        sides.find { |one, _| one.row == other && one.number > track.number && one.armed == track.armed }
      end

      def plan(track, lane, other)
        both = [[track, lane], *(other ? [other] : [])]
        name = other ? FileName.common(track.name, other.first.name) : track.name
        TrackPlan.new(key: track.id, name: name, file: FileName.of(track.number, name).delete_suffix(".wav"), lanes: both.map(&:last), armed: track.armed,
          sides: both.map { |side, _| {track: side.id, name: side.name} })
      end
    end
  end
end

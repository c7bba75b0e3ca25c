# frozen_string_literal: true

module Loomshuttle
  module Capture
    # A track of the recorder: `row` is the id of the source that it is meant for, which is
    # how a check can know that something else arrives.
    #
    # id      never changes, whatever the track is called and wherever it is recorded
    # place   the recorder's slot, e.g. "rec/track/9"
    # beside  id of the track on whose return lane it comes back, summed with it
    # sum_db  what each of the tracks on that lane is played at
    Track = Value.of(:id, :place, :name, row: nil, armed: false, beside: nil, sum_db: 0.0) do
      def number = Endpoint.parse(place).number
      def recorder = Endpoint.parse(place).device

      # Tracks that are called what their row was called follow it to its new name; one that has a
      # name of its own keeps it.
      #
      # @param before, after [Show] the rows of `after` may be called otherwise
      # @return [Show] after, with its tracks
      def self.following(before, after)
        tracks = after.tracks.transform_values do |track|
          was, is = before.rows[track.row], after.rows[track.row]
          (was && is && was.name != is.name && track.name == was.name) ? track.with(name: is.name) : track
        end
        (tracks == after.tracks) ? after : after.with(tracks: tracks.freeze)
      end
    end

    class Track
      # What tracks that share a lane are played at, each: 0 is as they are, -6 keeps two that are alike below full scale.
      SUM_DB = [0.0, -3.0, -4.5, -6.0].freeze
    end
  end
end

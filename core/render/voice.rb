# frozen_string_literal: true

module Loomshuttle
  module Render
    # One source that sounds in a program.
    #
    # key      what it is, e.g. a track's id or a role
    # source   answers frames, channels and read(from, count) => Numo::SFloat [channels, count]
    # lanes    1-based: one for each channel of the source, or a single one that takes the sum
    # at_frames  where in the program its first frame lies
    # gain_db  0 is as it is
    # muted    it goes on, unheard
    Voice = Value.of(:key, :source, :lanes, at_frames: 0, gain_db: 0.0, muted: false) do
      def end_frames = at_frames + source.frames

      # Two sides on one lane: half of each, so that what is alike keeps its level and nothing
      # can go over; neither side is lost.
      def fold? = lanes.size == 1 && source.channels > 1
      def unity? = !fold? && gain_db.zero? && !muted

      def ratio
        return 0.0 if muted

        Audio::Scale.ratio(gain_db) / (fold? ? source.channels : 1)
      end
    end
  end
end

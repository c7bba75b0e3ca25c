# frozen_string_literal: true

module Loomshuttle
  module Render
    # One source that sounds in a program.
    #
    # key      what it is, e.g. a track's id or a role
    # source   answers frames, channels and read(from, count) => Numo::SFloat [channels, count]
    # lanes    1-based: one for each channel of the source, a single one that takes the sum, or any number of a mono source
    # also     more lanes in the same way, at levels of their own: [[lanes, level_db]]
    # at_frames  where in the program its first frame lies
    # gain_db  0 is as it is
    # live_db  what somebody draws while it plays, on top of it
    # fold_db  law by which two sides come on one lane: -6 is half of each, so that what is alike keeps its level and
    #   nothing can go over; with -4.5 and -3 it comes 1.5 and 3 dB louder. Neither side is ever lost
    # muted    it goes on, unheard
    # dry      it does not ring on over seams
    # played   at_frames is of what is played, whatever order that has; while a loop goes round it is not heard
    Voice = Value.of(:key, :source, :lanes, at_frames: 0, gain_db: 0.0, live_db: 0.0, fold_db: -6.0, also: [].freeze, muted: false, played: false, dry: false) do
      def end_frames = at_frames + source.frames

      # @return [Array<Array(Array<Integer>, Float)>] lanes and factor of every way that it goes
      def ways = muted ? [] : [[lanes, 0.0], *also].map { |to, level_db| [to, ratio(to, level_db)] }

      # Whether a number of lanes fits the source.
      def takes?(count) = [0, 1, source.channels].include?(count) || source.channels == 1

      private

      def ratio(to, level_db)
        folded = (to.size == 1 && source.channels > 1) ? source.channels**(fold_db / 6.0) : 1.0
        Audio::Scale.ratio(gain_db + live_db + level_db) * folded
      end
    end
  end
end

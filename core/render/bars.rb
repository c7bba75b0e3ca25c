# frozen_string_literal: true

module Loomshuttle
  module Render
    # Which bar and beat sounds at a frame of a program.
    #
    # map       Music::TempoMap
    # at_frame  of the program, where bar 1 begins
    Bars = Value.of(:map, :at_frame) do
      # @param position [Integer] frame of the program
      # @return [Integer] first frame of the next beat, of the next bar
      def next_beat(position, rate_hz)
        bar, beat, beats = place(position, rate_hz)
        (beat == beats) ? next_bar(position, rate_hz) : frame(map.bar_start(bar) + beat * map.meter(bar).beat_quarters, rate_hz)
      end

      def next_bar(position, rate_hz) = frame(map.bar_start(place(position, rate_hz).first + 1), rate_hz)

      # @param quarters [Rational] from bar 1
      # @return [Integer] frame of the program
      def frame(quarters, rate_hz) = at_frame + map.frame(quarters, rate_hz)

      # A beat begins with the frame that its time is rounded to.
      #
      # @param position [Integer] frame of the program
      # @return [Array(Integer, Integer, Integer)] bar, beat from 1, beats of that bar
      def place(position, rate_hz)
        bar, beat, = map.place(map.quarters(Rational(2 * (position - at_frame) + 1, 2 * rate_hz)))
        [bar, beat, map.meter(bar).beats]
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Deck
    # How loud all of it is, from one device frame to another on a straight line, and as it ends from there on.
    #
    #   Fade.new(at_frame: 480_000, frames: 480, from: 1.0, to: 0.0).ratios(480_100, 64)   # => Numo::SFloat[64], falling
    #
    # stops  what plays is over when it has ended
    Fade = Struct.new(:at_frame, :frames, :from, :to, :stops, keyword_init: true) do
      def end_frame = at_frame + frames
      def silent? = to.zero?

      # @return [Float] at a device frame
      def ratio(frame) = from + (to - from) * ((frame - at_frame).to_f / frames).clamp(0.0, 1.0)

      # @return [Numo::SFloat, Float] of each of `count` frames; one number where they are all alike
      def ratios(frame, count)
        return to if frame >= end_frame
        return from if frame + count <= at_frame

        share = ((Numo::SFloat.new(count).seq(frame - at_frame) + 1) / frames).clip(0.0, 1.0)
        share * (to - from) + from
      end
    end
  end
end

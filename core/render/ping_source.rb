# frozen_string_literal: true

module Loomshuttle
  module Render
    # What one lane sends in a return ping: two turns of its sequence in the first order of the lanes, then two in the
    # other. Of each order the second turn is heard, when whatever is late has come in.
    class PingSource
      TURNS = 2
      # Frames of a whole ping.
      FRAMES = TURNS * Ear::Sequence::ORDERS.size * Ear::Sequence::LENGTH

      attr_reader :frames

      # @param lane [Integer] 1 to Ear::Sequence::LANES, whose sequence it is
      # @param frames [Integer] fewer for a quick one
      def initialize(lane, frames: FRAMES)
        @turns = Ear::Sequence::ORDERS.map { |order| Ear::Sequence.of_lane(lane, order: order) }
        @frames = frames
      end

      def channels = 1

      # @return [Numo::SFloat] [1, count]
      def read(from, count)
        out = Numo::SFloat.zeros(1, count)
        done = 0
        while done < count && from + done < @frames
          turn, at = (from + done).divmod(Ear::Sequence::LENGTH)
          length = [Ear::Sequence::LENGTH - at, count - done, @frames - from - done].min
          out[0, done...(done + length)] = @turns[turn / TURNS][at...(at + length)]
          done += length
        end
        out
      end

      def close = nil
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Render
    # What plays, as one frozen value: voices on one time line, and a loop. What a loop holds goes
    # round without a gap, wherever its ends lie in a block.
    #
    #   program = Program.new(label: "Take 4", rate_hz: 48_000, voices: [voice], length_frames: 480_000)
    #   program.pieces(479_000, 2000)   # => [[479_000, 1000, 0]], then nothing
    #
    # loop_frames  Range of program frames, nil for none
    Program = Value.of(:label, :rate_hz, :voices, :length_frames, key: nil, loop_frames: nil) do
      # Where a stretch of playing time lies in the program.
      #
      # @param from [Integer] frames played since position 0, loops not counted: a position
      # @param count [Integer]
      # @return [Array<Array(Integer, Integer, Integer)>] program frame, count, offset in the stretch
      def pieces(from, count)
        found = []
        offset = 0
        while offset < count && (at = fold(from))
          take = [count - offset, edge(at) - at].min
          found << [at, take, offset]
          offset += take
          from = at + take
        end
        found
      end

      # @param position [Integer] that may lie behind the loop's end
      # @return [Integer, nil] the same within the program; nil behind its end
      def fold(position)
        return position if position < (loop_frames&.end || length_frames)
        return nil unless loop_frames

        loop_frames.begin + (position - loop_frames.begin) % (loop_frames.end - loop_frames.begin)
      end

      def endless? = !loop_frames.nil?
      def with_loop(range) = with(loop_frames: range)

      # @param gains_db [Hash{String => Float}] by the voice's key
      def with_gains(gains_db) = with(voices: voices.map { |voice| gains_db.key?(voice.key) ? voice.with(gain_db: gains_db[voice.key]) : voice })

      private

      def edge(at) = (loop_frames && at < loop_frames.end) ? loop_frames.end : length_frames
    end
  end
end

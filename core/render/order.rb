# frozen_string_literal: true

module Loomshuttle
  module Render
    # Parts of a program in the order in which they are played: once, again, or not at all. Audio is never copied.
    #
    #   order = Order.new(ranges: [0...100, 200...300, 0...100], seam_frames: 20)
    #   order.plain(150)          # => 250, the program's frame that sounds then
    #   order.pieces(90, 20)      # => [[90, 10, 0], [200, 10, 10]]
    #
    # ranges       frames of the program, none empty
    # seam_frames  over so many frames behind a join what would have come behind the end of the part before fades into what
    #              comes, so that nothing clicks; parts that follow on each other anyway have no seam
    # tail_frames  over so many beside that it rings on, fading out, on top of what comes
    Order = Value.of(:ranges, seam_frames: 0, tail_frames: 0)

    class Order
      include Value::Memo

      # @return [Integer] of all that is played
      def frames = starts.last

      # @param played [Integer] frames since the beginning, within all of it
      # @return [Integer] frame of the program
      def plain(played) = part(played).then { |at| ranges[at].begin + played - starts[at] }

      # @return [Integer] frames played where the part ends that sounds then
      def end_of_part(played) = starts[part(played) + 1]

      # Where a stretch that is played lies in the program.
      #
      # @return [Array<Array(Integer, Integer, Integer)>] program frame, count, offset in the stretch
      def pieces(from, count)
        each_part(from, count) { |at, first, last| [ranges[at].begin + first - starts[at], last - first, first - from] }
      end

      # Where a stretch lies in seams.
      #
      # @return [Array<Array(Integer, Integer, Integer, Integer, Integer)>] program frame behind the part before, count, offset
      #   in the stretch, frames of the seam that lie behind, and how long it is
      def seams(from, count) = behind_joins(from, count, seam_frames).map { |*seam, _| seam }

      # Where a stretch lies in tails.
      #
      # @return [Array<Array(Integer, Integer, Integer, Integer, Integer, Integer)>] as seams, of tails; and how long the seam is
      #   that the tail lies over
      def tails(from, count) = tail_frames.zero? ? [] : behind_joins(from, count, tail_frames)

      private

      # Where each part begins in what is played, and the end.
      def starts = once(:starts) { ranges.each_with_object([0]) { |range, all| all << all.last + range.size }.freeze }
      def part(played) = (starts.bsearch_index { |start| start > played } || ranges.size) - 1

      def behind_joins(from, count, frames)
        each_part(from, count) do |at, first, last|
          length = length(at, frames)
          done = first - starts[at]
          [ranges[at - 1].end + done, [last - first, length - done].min, first - from, done, length, length(at, seam_frames)] if done < length
        end
      end

      # Parts that follow on each other anyway have nothing to sew.
      def length(at, frames)
        return 0 if at.zero? || ranges[at - 1].end == ranges[at].begin

        [frames, ranges[at].size].min
      end

      def each_part(from, count)
        (part(from)...ranges.size).lazy.take_while { |at| starts[at] < from + count }
          .filter_map { |at| yield(at, [starts[at], from].max, [starts[at + 1], from + count].min) }.to_a
      end
    end
  end
end

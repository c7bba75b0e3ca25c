# frozen_string_literal: true

module Loomshuttle
  module Render
    # What plays, as one frozen value: voices on one time line, an order in which its parts are played, and a loop. What a loop holds goes
    # round without a gap, wherever its ends lie in a block.
    #
    #   program = Program.new(label: "Take 4", rate_hz: 48_000, voices: [voice], length_frames: 480_000)
    #   program.pieces(479_000, 2000)   # => [[479_000, 1000, 0]], then nothing
    #
    # bars         Bars of a song, nil for what has none
    # order        Order of its parts, nil for as they lie; length_frames is that of what is played
    # loop_frames  Range of frames of what is played, nil for none
    # seam_frames  over so many frames behind the loop's beginning what would have come behind its end fades into it,
    #   so that nothing clicks where they do not meet; 0 for ends that do
    Program = Value.of(:label, :rate_hz, :voices, :length_frames, key: nil, bars: nil, order: nil, loop_frames: nil, seam_frames: 0) do
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
          found.concat(order ? order.pieces(at, take).map { |plain, length, into| [plain, length, offset + into] } : [[at, take, offset]])
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

      # Where a stretch of playing time lies in the seams of parts and of a loop.
      #
      # @return [Array<Array(Integer, Integer, Integer, Integer, Integer)>] program frame behind the end that is left, count,
      #   offset in the stretch, frames of the seam that lie behind, and how long it is
      def seams(from, count) = [*(order ? order_seams(from, count) : []), *loop_seams(from, count)]

      # Where a stretch of playing time lies in tails, see Order#tails.
      def tails(from, count) = order&.tail_frames&.positive? ? of_order(from, count) { |at, take| order.tails(at, take) } : []

      # Behind the seam's end all is as before.
      def seam = [seam_frames, loop_frames ? loop_frames.end - loop_frames.begin : 0].min

      def endless? = !loop_frames.nil?
      def with_loop(range, seam_frames = 0) = with(loop_frames: range, seam_frames: seam_frames)

      # @param order [Order]
      def with_order(order) = with(order: order, length_frames: order.frames)

      # @param position [Integer] within what is played
      # @return [Array(Integer, Integer, Integer), nil] bar, beat from 1, beats of that bar
      def place(position) = bars&.place((order && position < length_frames) ? order.plain(position) : position, rate_hz)

      # @param what [String] "beat" or "bar"
      # @param position [Integer] within what is played
      # @return [Integer, nil] where the next one begins; nil for what has no bars
      def following(what, position)
        return nil unless bars

        plain = order ? order.plain(position) : position
        ahead = ((what == "bar") ? bars.next_bar(plain, rate_hz) : bars.next_beat(plain, rate_hz)) - plain
        # Where a part ends, or a loop comes round, something else begins.
        [position + ahead, order&.end_of_part(position), (loop_frames.end if loop_frames&.cover?(position))].compact.min
      end

      # @param gains_db [Hash{String => Float}] by the voice's key, on top of what it has by itself
      def with_gains(gains_db) = with(voices: voices.map { |voice| gains_db.key?(voice.key) ? voice.with(live_db: gains_db[voice.key]) : voice })

      # @param keys [Array<String>] of the voices that are muted; all others are not
      def with_muted(keys) = with(voices: voices.map { |voice| (voice.muted == keys.include?(voice.key)) ? voice : voice.with(muted: keys.include?(voice.key)) })

      # What somebody did while another program played holds in this one too: each voice by its key.
      #
      # @param other [Program]
      # @return [Program]
      def as_live_as(other)
        live = other.voices.to_h { |voice| [voice.key, voice] }
        held = with(voices: voices.map { |voice| live[voice.key]&.then { |was| voice.with(live_db: was.live_db, muted: was.muted) } || voice })
        solo = other.voices.select { |voice| voice.key.start_with?(self.class::SOLO) }
        solo.empty? ? held : held.with_solo(solo.first.key.split("/", 3).last, solo.flat_map(&:lanes))
      end

      # One voice on lanes of its own as well, for whoever listens to it alone.
      #
      # @param key [String, nil] nil for none
      # @param lanes [Array<Integer>]
      # @return [Program]
      def with_solo(key, lanes)
        plain = voices.reject { |voice| voice.key.start_with?(self.class::SOLO) }
        voice = key && plain.find { |one| one.key == key }
        return with(voices: plain) unless voice

        with(voices: plain + lanes.map { |lane| voice.with(key: "#{self.class::SOLO}#{lane}/#{key}", lanes: [lane], also: [].freeze, gain_db: 0.0, live_db: 0.0, muted: false) })
      end

      private

      def order_seams(from, count) = of_order(from, count) { |at, take| order.seams(at, take) }

      def of_order(from, count)
        found = []
        offset = 0
        while offset < count && (at = fold(from + offset))
          take = [count - offset, edge(at) - at].min
          found.concat(yield(at, take).map { |plain, length, into, *rest| [plain, length, offset + into, *rest] })
          offset += take
        end
        found
      end

      def loop_seams(from, count)
        return [] unless loop_frames && seam_frames.positive? && from + count > loop_frames.end

        turn = loop_frames.end - loop_frames.begin
        seam = [seam_frames, turn].min
        # The first turn begins where it was asked for: there is no seam.
        at = loop_frames.end + [(from - loop_frames.end).div(turn), 0].max * turn
        found = []
        while at < from + count
          first, last = [at, from].max, [at + seam, from + count].min
          found << [behind_loop + first - at, last - first, first - from, first - at, seam] if last > first
          at += turn
        end
        found
      end

      # The program's frame that would come behind the loop's last one.
      def behind_loop = order ? order.plain(loop_frames.end - 1) + 1 : loop_frames.end

      def edge(at) = (loop_frames && at < loop_frames.end) ? loop_frames.end : length_frames
    end

    # Keys of voices that are there to be listened to alone begin with it.
    Program::SOLO = "solo/"
  end
end

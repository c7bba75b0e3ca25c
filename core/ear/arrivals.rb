# frozen_string_literal: true

module Loomshuttle
  module Ear
    # Hears when somebody taps, scratches or speaks on one lane of many, and on which: the lane where it is
    # loudest, or, where two are about as loud (a neighbour's preamp may be open further), the one where it
    # began first, because bleed travels through air.
    #
    #   arrivals = Arrivals.new(lanes: 32, rate_hz: 48_000, block_frames: 1024)
    #   arrivals.hear(block)   # => Arrival, or nil where none has ended yet
    #
    # A block answers frame, frames, square (Numo::SFloat [lanes]) and lane(index, from 0) => 24-bit samples,
    # as those of the capture ring do; it is dropped when it is not needed any more.
    class Arrivals
      # Over its own floor so much, and never under this: what a tap on any microphone is (common practice).
      RISE_DB = 15.0
      LOWEST_DBFS = -60.0
      # So long is listened from its first block on: half of what a verdict may take.
      LISTEN_S = 0.12
      # So long where it may be hum that begins: what hum there is can be told then.
      DOUBT_S = 0.6
      # Left out of that: what a plug does to a lane.
      PLUG_S = 0.005
      # A lane that sounded within this has not begun to sound.
      APART_S = 0.25
      # Kept from before it began, for the hum.
      BEFORE_S = 0.7
      # A lane that is no softer than so much under the loudest may be the one where it came in, if it began first;
      # one that is softer still, if it is the same signal besides: the other's preamp is open much too far then.
      CLOSE_DB = 12.0
      SOFT_DB = 40.0
      SAME_LIKE = 0.5
      # Sound is 0.17 m further in this time: nearer than any two microphones of two sources.
      LEAD_S = 0.0005
      # The first sample is the first so high over the lane's own peak, and over its noise.
      ONSET_DB = -20.0
      OVER_NOISE_DB = 15.0
      # Between the microphones of one source.
      APART_MOST_S = 0.015
      # Of so many lanes it is worked out how alike they are.
      COMPARED = 8
      private_constant :LISTEN_S, :DOUBT_S, :PLUG_S, :APART_S, :BEFORE_S, :CLOSE_DB, :SOFT_DB, :SAME_LIKE, :LEAD_S, :ONSET_DB, :OVER_NOISE_DB, :APART_MOST_S, :COMPARED

      # @return [Floors]
      attr_reader :floors

      # @param deaf [Array<Integer>] lanes, from 1, that are not listened to: they carry mixes
      def initialize(lanes:, rate_hz:, block_frames:, deaf: [])
        @open = Numo::Bit.ones(lanes)
        deaf.each { |lane| @open[lane - 1] = 0 if lane.between?(1, lanes) }
        @rate_hz = rate_hz
        @lanes = lanes
        @floors = Floors.new(lanes: lanes, blocks_per_s: rate_hz / block_frames.to_f)
        @sounded = Numo::Int64.new(lanes).fill(-(2**40))
        @past = []
      end

      # @return [Arrival, nil]
      def hear(block)
        return after_a_hole(block) if @past.any? && block.frame != @past.last.frame + @past.last.frames

        @past << block
        @begun ? listened(block) : begin_at(block)
      end

      private

      # Frames that were lost are not put together with those before. What sounds behind them may have begun in them:
      # its first sample and its peak are not known, so it is nothing that begins.
      def after_a_hole(block)
        @past.each(&:drop).clear
        @begun = @doubtful = @waits = nil
        @past << block
        begun_in(block)
        nil
      end

      def begin_at(block)
        fresh = begun_in(block)
        drop_old
        return nil unless fresh.any?

        begin_with(block.frame, fresh)
        nil
      end

      def begin_with(frame, fresh)
        @begun, @fresh, @quiet = frame, fresh, @floors.mean_square
      end

      # @return [Numo::Bit] [lanes] that sound in this block and did not before
      def begun_in(block)
        risen = risen(block)
        fresh = risen & (@sounded < block.frame - (APART_S * @rate_hz).to_i)
        @sounded[risen.where] = block.frame + block.frames if risen.any?
        @floors.add(block.square)
        fresh
      end

      # @return [Numo::Bit] [lanes]
      def risen(block)
        return Numo::Bit.zeros(@lanes) unless @floors.ready?

        @open & (block.square > @floors.mean_square * 10**(RISE_DB / 10)) & (block.square > Audio::Scale.ratio(LOWEST_DBFS)**2)
      end

      def listened(block)
        fresh = begun_in(block)
        lasts_s = (block.frame + block.frames - @begun).fdiv(@rate_hz)
        return doubted(block, fresh, lasts_s) if @doubtful

        @fresh |= fresh
        return nil if lasts_s < LISTEN_S

        arrival = conclude
        return over(arrival) unless arrival && Hum.likely?(since(arrival.heard.first), rate_hz: @rate_hz)

        @doubtful = arrival
        nil
      end

      # What begins on other lanes meanwhile waits for its turn.
      def doubted(block, fresh, lasts_s)
        @doubtful.heard.each { |one| fresh[one.lane - 1] = 0 }
        @waits = [@waits ? @waits.first : block.frame, @waits ? @waits.last | fresh : fresh] if fresh.any?
        resolve if lasts_s >= DOUBT_S
      end

      def resolve
        hums = @doubtful.heard.first(COMPARED).to_h { |one| [one.lane, Hum.alone(since(one), rate_hz: @rate_hz)] }.compact
        return over(@beside ? nil : @doubtful) unless hums.key?(@doubtful.lane)

        # From now on it is what those lanes sound like when nobody plays.
        hums.each { |lane, hum| @floors.settle(lane - 1, Audio::Scale.ratio(hum.level_dbfs)**2 / 2) }
        over(@doubtful.with(hum: hums[@doubtful.lane], humming: true))
      end

      def over(arrival)
        waits, @begun, @doubtful, @waits = @waits, nil
        waits ? begin_with(*waits) : drop_old
        arrival
      end

      # @param heard [Heard]
      # @return [Numo::SFloat] [frames] of that lane since it began there
      def since(heard)
        blocks = @past.select { |block| block.frame + block.frames > heard.onset_frame }
        all = samples(blocks, heard.lane - 1)
        from = [heard.onset_frame - blocks.first.frame, 0].max + (PLUG_S * @rate_hz).round
        (from < all.size) ? all[from..] : Numo::SFloat.zeros(0)
      end

      def drop_old
        keep = (BEFORE_S * @rate_hz).ceil
        @past.shift.drop while @past.size > 1 && @past.last.frame - @past.first.frame > keep
      end

      # What had begun before, and only grew louder, is nothing new; hum may have begun beside it all the same.
      def conclude
        heard = heard(@past.select { |block| block.frame.between?(@begun - block.frames, @begun + (LISTEN_S * @rate_hz).ceil - 1) })
        first = heard.find { |one| fresh?(one) && (one.equal?(heard.first) || Hum.likely?(since(one), rate_hz: @rate_hz)) } or return nil
        @beside = !first.equal?(heard.first)
        Arrival.new(frame: first.onset_frame, heard: [first, *heard.reject { |one| one.equal?(first) }],
          floor_dbfs: Audio::Scale.rms_dbfs(@quiet[first.lane - 1]), hum: hum(first.lane))
      end

      def fresh?(heard) = @fresh[heard.lane - 1] == 1

      # @param blocks the one before it began and all since
      # @return [Array<Heard>] the one where it came in, then loudest first
      def heard(blocks)
        since = blocks.select { |block| block.frame >= @begun }
        power = Numo::SFloat.zeros(@lanes)
        since.each { |block| power += block.square }
        rise_db = Numo::NMath.log10(power / since.size / @quiet) * 10
        lanes = (@open & (rise_db > RISE_DB) & (power / since.size > Audio::Scale.ratio(LOWEST_DBFS)**2)).where.to_a
        compared(lanes.map { |lane| Part.new(lane, samples(blocks, lane), rise_db[lane], power[lane]) }.sort_by { |part| -part.power }, blocks.first.frame)
      end

      # lane from 0, samples Numo::SFloat [frames]
      Part = Struct.new(:lane, :samples, :rise_db, :power) do
        def peak = samples.minmax.map(&:abs).max
      end
      private_constant :Part

      # How alike each is to the one where it came in; that is known only after the onsets.
      #
      # @return [Array<Heard>] that one first, the others loudest first
      def compared(parts, frame)
        return [] if parts.empty?

        alone = parts.map { |part| heard_on(part, frame, Likeness::NONE) }
        own = first_of(parts, alone)
        found = parts.zip(alone).map.with_index { |(part, one), at| (at < COMPARED || at == own) ? one.with(like: likeness(parts[own], part)) : one }
        [found.delete_at(own), *found]
      end

      # @return [Integer] its place among the parts
      def first_of(parts, alone)
        loudest = alone.first
        early = alone.each_index.select { |at| alone[at].peak_dbfs > loudest.peak_dbfs - SOFT_DB && loudest.onset_frame - alone[at].onset_frame > LEAD_S * @rate_hz }
        early.sort_by { |at| alone[at].onset_frame }.find do |at|
          alone[at].peak_dbfs > loudest.peak_dbfs - CLOSE_DB || likeness(parts[at], parts.first).then { |like| like.likeness >= SAME_LIKE && like.delay_frames.positive? }
        end || 0
      end

      def likeness(one, other) = Likeness.of(one.samples, other.samples, most_frames: (APART_MOST_S * @rate_hz).round)

      def heard_on(part, frame, like)
        Heard.new(lane: part.lane + 1, peak_dbfs: Audio::Scale.dbfs(part.peak), rise_db: part.rise_db, onset_frame: frame + onset(part), clipped: Clips.any?(part.samples),
          like: like)
      end

      def onset(part)
        noise = Math.sqrt(@quiet[part.lane]) * Audio::Scale.ratio(OVER_NOISE_DB)
        (part.samples.abs >= noise.clamp(part.peak * Audio::Scale.ratio(ONSET_DB), part.peak)).where[0]
      end

      def hum(lane)
        before = @past.select { |block| block.frame + block.frames <= @begun }
        before.empty? ? nil : Hum.of(samples(before, lane - 1), rate_hz: @rate_hz)
      end

      # @param lane [Integer] from 0
      def samples(blocks, lane)
        Numo::SFloat.from_binary(Audio::Wav::Samples.float_of_24(blocks.map { |block| block.lane(lane) }.join))
      end
    end
  end
end

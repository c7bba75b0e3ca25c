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
      private_constant :LISTEN_S, :APART_S, :BEFORE_S, :CLOSE_DB, :SOFT_DB, :SAME_LIKE, :LEAD_S, :ONSET_DB, :OVER_NOISE_DB, :APART_MOST_S, :COMPARED

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
        # Frames that were lost are not put together with those before.
        forget if @past.any? && block.frame != @past.last.frame + @past.last.frames
        @past << block
        @begun ? listened(block) : begin_at(block)
      end

      private

      def forget
        @past.each(&:drop).clear
        @begun = nil
      end

      def begin_at(block)
        fresh = begun_in(block)
        drop_old
        return nil unless fresh.any?

        @begun = block.frame
        @fresh = fresh
        @quiet = @floors.mean_square
        nil
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
        @fresh |= begun_in(block)
        return nil if block.frame + block.frames - @begun < LISTEN_S * @rate_hz

        conclude.tap { @begun = nil }.tap { drop_old }
      end

      def drop_old
        keep = (BEFORE_S * @rate_hz).ceil
        @past.shift.drop while @past.size > 1 && @past.last.frame - @past.first.frame > keep
      end

      # What had begun before, and only grew louder, is nothing new.
      def conclude
        heard = heard(@past.select { |block| block.frame >= @begun - block.frames })
        return nil if heard.empty?

        first = heard.first
        return nil unless @fresh[first.lane - 1] == 1

        Arrival.new(frame: first.onset_frame, heard: heard, floor_dbfs: Audio::Scale.rms_dbfs(@quiet[first.lane - 1]), hum: hum(first.lane))
      end

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

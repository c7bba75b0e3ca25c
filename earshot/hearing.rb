# frozen_string_literal: true

require "securerandom"

module Loomshuttle
  module Earshot
    # Reads the capture ring as long as somebody wants to know, and keeps the newest arrivals. A reader like
    # any other: what it is too slow for it misses, and says so; the engine does not notice.
    #
    #   hearing.wanted(5.0)   # for so many seconds
    #   hearing.turn          # from a loop
    #   hearing.told          # => {listening: true, arrivals: [...]}
    class Hearing
      # Arrivals are told for a while: whoever was away for a moment finds them, and nobody reads them for ever.
      KEPT_S = 15
      KEPT = 16
      private_constant :KEPT_S, :KEPT

      # @param ring [#call] => Rings::CaptureRing, nil while there is none
      # @param clock [#call] => seconds, monotonic
      def initialize(ring, clock: -> { Process.clock_gettime(Process::CLOCK_MONOTONIC) })
        @ring, @clock = ring, clock
        @until_s = -Float::INFINITY
        @arrivals = []
        @deaf = []
        @missed_blocks = 0
      end

      # @param seconds [Numeric] 0 ends it
      # @param deaf [Array<Integer>, nil] lanes that carry mixes; nil leaves them as they are
      # @param anew [Boolean] whether floors and arrivals of before are forgotten: another check begins
      def wanted(seconds, anew: false, deaf: nil)
        @anew = true if anew || (deaf && deaf != @deaf)
        @deaf = deaf || @deaf
        @until_s = @clock.call + seconds
      end

      # @param lanes [Array<Integer>] from 1, whose preamps were turned
      def forget_levels(lanes)
        @minute&.forget(lanes)
        @levels = nil
      end

      def listening? = @clock.call < @until_s

      # Reads what is new.
      #
      # @return [Boolean] whether something arrived
      def turn
        drop_old
        return forget unless listening?

        ring = @ring.call or return forget
        begin_on(ring) if @anew || !ring.equal?(@read)
        before = @arrivals.size
        while (block = @reader.read)
          hear(block)
        end
        @arrivals.size > before
      end

      # What is known now, by its monotonic time. minute: peak_dbfs and rms_dbfs of Ear::Minute, one a lane, nil in
      # its first second; ready: whether each lane's floor is known; arrivals as data.
      #
      # @return [Hash]
      def told
        {at_s: @clock.call, minute: @levels, listening: listening? && !@read.nil?, ready: (!@anew && @ear&.floors&.ready?) || false,
         missed_blocks: @missed_blocks, arrivals: @arrivals.map(&:last)}
      end

      private

      def forget
        @read = @reader = @ear = @levels = nil
        false
      end

      # By the one thread that hears, so that none is lost that is added meanwhile.
      def drop_old
        now_s = @clock.call
        @arrivals.shift while @arrivals.size > KEPT || (@arrivals.any? && now_s - @arrivals.first.first > KEPT_S)
      end

      def begin_on(ring)
        @arrivals = [] if @anew
        @anew = false
        @read = ring
        @reader = ring.reader
        @missed_seen = 0
        @ear = Ear::Arrivals.new(lanes: ring.lanes, rate_hz: ring.rate_hz, block_frames: ring.block_frames, deaf: @deaf)
        @minute = Ear::Minute.new(lanes: ring.lanes, blocks_per_s: ring.rate_hz / ring.block_frames.to_f)
        @levels = nil
      end

      def hear(block)
        @levels = {peak_dbfs: @minute.peak_dbfs, rms_dbfs: @minute.rms_dbfs} if @minute.add(block.extremes, block.square)
        arrival = @ear.hear(block)
        @missed_blocks += @reader.missed_blocks - @missed_seen
        @missed_seen = @reader.missed_blocks
        @arrivals << [@clock.call, arrival.with(id: SecureRandom.uuid).to_data] if arrival
      end
    end
  end
end

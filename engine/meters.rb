# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Levels of every lane: now, held, and the last ten minutes. The block loop adds what
    # Unpack found in each block, which costs it next to nothing; any thread takes what has
    # gathered since it last asked, and works it out.
    class Meters
      # The ribbon: one value every two seconds for ten minutes.
      RIBBON_S = 2
      RIBBON_VALUES = 300
      # Nobody asks: so many blocks are worked out at once.
      GATHERED = 8
      FULL_SCALE = Audio::Scale::FULL_SCALE_S32.to_f
      # Has a logarithm, and is under the floor of what is shown.
      LEAST = 1
      private_constant :RIBBON_S, :RIBBON_VALUES, :GATHERED, :FULL_SCALE, :LEAST

      # @param format [Device::Format]
      def initialize(format)
        @lanes = format.lanes_in
        @ribbon_blocks = (RIBBON_S * format.rate_hz.to_f / format.block_frames).round
        @ribbon = Array.new(RIBBON_VALUES) { nil }
        @ribbon_at = 0
        @gathered = []
        @lock = Mutex.new
        @clips = Numo::Int32.zeros(@lanes)
        @held = Numo::Int32.zeros(@lanes)
        clear_now
        clear_ribbon
      end

      # @param low, high [Numo::Int32] [lanes], full scale 2^31; kept, not copied
      def add(low, high)
        @lock.synchronize do
          @gathered << [low, high]
          settle if @gathered.size >= GATHERED || @blocks + @gathered.size >= @ribbon_blocks
        end
      end

      # @return [Hash] peak_dbfs since the last call, held_dbfs and clips since the last reset; one a
      #   lane (the same again when no block came in between)
      def take
        @lock.synchronize do
          settle
          read unless @frame && @added.zero?
          @frame
        end
      end

      # @return [Array<Array<Float>>] peaks in dBFS of each two seconds, oldest first, one a lane
      def ribbon
        @lock.synchronize do
          settle
          @ribbon.rotate(@ribbon_at).compact
        end
      end

      # Held peaks and clips begin anew, of the lanes given or of all.
      #
      # @param lanes [Array<Integer>, nil] from 1
      def reset(lanes = nil)
        @lock.synchronize do
          settle
          (lanes || (1..@lanes)).each { |lane| lane.between?(1, @lanes) && (@clips[lane - 1] = @held[lane - 1] = 0) }
          @frame = nil if @added > 0
          @frame = @frame&.merge(held_dbfs: db(@held), clips: @clips.to_a)
        end
      end

      # Another show's peaks do not stay on these lanes.
      def forget
        reset
        @lock.synchronize { @ribbon.fill(nil) }
      end

      private

      def read
        peak_dbfs, held_dbfs = db(Numo::Int32[@peak, @held])
        @frame = {peak_dbfs: peak_dbfs, held_dbfs: held_dbfs, clips: @clips.to_a}
        clear_now
      end

      def settle
        return if @gathered.empty?

        lows, highs = @gathered.transpose
        # One step less than the lowest sample's magnitude: that of -2^31 has no room in 32 bits.
        peak = Numo::Int32.maximum(merged(highs, :maximum), ~merged(lows, :minimum))
        count_clips(lows, highs) if peak.max >= StretchFile::CLIP - 1
        gather(peak, lows.size)
        @gathered.clear
      end

      def merged(blocks, with) = blocks.inject { |one, other| Numo::Int32.public_send(with, one, other) }

      def count_clips(lows, highs)
        lows.zip(highs) { |low, high| @clips += Numo::Int32.cast((high >= StretchFile::CLIP) | (low <= -StretchFile::CLIP)) }
      end

      def gather(peak, blocks)
        @peak = Numo::Int32.maximum(@peak, peak)
        @held = Numo::Int32.maximum(@held, peak)
        @ribbon_peak = Numo::Int32.maximum(@ribbon_peak, peak)
        @added += blocks
        @blocks += blocks
        keep_ribbon if @blocks >= @ribbon_blocks
      end

      def keep_ribbon
        @ribbon[@ribbon_at] = db(@ribbon_peak)
        @ribbon_at = (@ribbon_at + 1) % @ribbon.size
        clear_ribbon
      end

      def clear_now
        @peak = Numo::Int32.zeros(@lanes)
        @added = 0
      end

      def clear_ribbon
        @ribbon_peak = Numo::Int32.zeros(@lanes)
        @blocks = 0
      end

      # As Scale.dbfs, all lanes at once, to a tenth.
      #
      # @param peaks [Numo::Int32] full scale 2^31
      # @return [Array<Float>] of its shape
      def db(peaks)
        tenths = Numo::NMath.log10(Numo::DFloat.cast(peaks).clip(LEAST, nil) / FULL_SCALE) * 200
        (tenths.clip(Audio::Scale::FLOOR_DBFS * 10, nil).round / 10).to_a
      end
    end
  end
end

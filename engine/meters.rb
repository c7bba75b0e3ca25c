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
      # Nearest to nothing that has a logarithm; far below the floor of what is shown.
      TINY = 1e-30
      # A block whose peak is under this holds no clip; a float of a sample may be a little more than it.
      CLIPPING = 0.999
      private_constant :RIBBON_S, :RIBBON_VALUES, :GATHERED, :FULL_SCALE, :TINY, :CLIPPING

      # @param format [Device::Format]
      def initialize(format)
        @lanes = format.lanes_in
        @ribbon_blocks = (RIBBON_S * format.rate_hz.to_f / format.block_frames).round
        @ribbon = Array.new(RIBBON_VALUES) { nil }
        @ribbon_at = 0
        @gathered = []
        @lock = Mutex.new
        @clips = Numo::Int32.zeros(@lanes)
        @held = Numo::SFloat.zeros(@lanes)
        clear_now
        clear_ribbon
      end

      # @param low, high [Numo::Int32] [lanes], full scale 2^31; kept, not copied
      # @param square [Numo::SFloat] [lanes], mean square of the block, full scale 1
      def add(low, high, square)
        @lock.synchronize do
          @gathered << [low, high, square]
          settle if @gathered.size >= GATHERED || @blocks + @gathered.size >= @ribbon_blocks
        end
      end

      # @return [Hash] peak_dbfs and rms_dbfs since the last call, held_dbfs and clips since the
      #   last reset; one a lane (the same again when no block came in between)
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
        @frame = {peak_dbfs: db(@peak), rms_dbfs: tenths(10 * Numo::NMath.log10(@square.clip(TINY, nil) / [@added, 1].max) + Audio::Scale::AES17_RMS_OFFSET_DB),
                  held_dbfs: db(@held), clips: @clips.to_a}
        clear_now
      end

      def settle
        return if @gathered.empty?

        lows, highs, squares = @gathered.transpose
        low = lows.inject { |one, other| Numo::Int32.minimum(one, other) }
        high = highs.inject { |one, other| Numo::Int32.maximum(one, other) }
        peak = Numo::SFloat.maximum(Numo::SFloat.cast(high), -Numo::SFloat.cast(low)) / FULL_SCALE
        @square += squares.inject(:+)
        count_clips(lows, highs) if peak.max >= CLIPPING
        gather(peak, lows.size)
        @gathered.clear
      end

      def count_clips(lows, highs)
        lows.zip(highs) { |low, high| @clips += Numo::Int32.cast((high >= StretchFile::CLIP) | (low <= -StretchFile::CLIP)) }
      end

      def gather(peak, blocks)
        @peak = Numo::SFloat.maximum(@peak, peak)
        @held = Numo::SFloat.maximum(@held, peak)
        @ribbon_peak = Numo::SFloat.maximum(@ribbon_peak, peak)
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
        @peak = Numo::SFloat.zeros(@lanes)
        @square = Numo::SFloat.zeros(@lanes)
        @added = 0
      end

      def clear_ribbon
        @ribbon_peak = Numo::SFloat.zeros(@lanes)
        @blocks = 0
      end

      # As Scale.dbfs, all lanes at once.
      def db(ratios) = tenths(20 * Numo::NMath.log10(ratios.clip(TINY, nil)))
      def tenths(values) = (Numo::DFloat.cast(values).clip(Audio::Scale::FLOOR_DBFS, nil) * 10).round.to_a.map { |value| value / 10.0 }
    end
  end
end

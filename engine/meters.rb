# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Levels of every lane: now, held, and the last ten minutes. The block loop adds what
    # Unpack found in each block; any thread takes what has gathered since it last asked.
    class Meters
      # The ribbon: one value every two seconds for ten minutes.
      RIBBON_S = 2
      RIBBON_VALUES = 300
      FULL_SCALE = Audio::Scale::FULL_SCALE_S32.to_f
      private_constant :RIBBON_S, :RIBBON_VALUES, :FULL_SCALE

      # @param format [Device::Format]
      def initialize(format)
        @lanes = format.lanes_in
        @ribbon_blocks = (RIBBON_S * format.rate_hz.to_f / format.block_frames).round
        @ribbon = Array.new(RIBBON_VALUES) { nil }
        @ribbon_at = 0
        @lock = Mutex.new
        @clips = Numo::Int32.zeros(@lanes)
        @held = Numo::SFloat.zeros(@lanes)
        clear_now
        clear_ribbon
      end

      # @param low, high [Numo::Int32] [lanes], full scale 2^31
      # @param square [Numo::SFloat] [lanes], mean square of the block, full scale 1
      def add(low, high, square)
        peak = Numo::SFloat.maximum(Numo::SFloat.cast(high), -Numo::SFloat.cast(low)) / FULL_SCALE
        clipped = (high >= StretchFile::CLIP) | (low <= -StretchFile::CLIP)
        @lock.synchronize { gather(peak, square, clipped) }
      end

      # @return [Hash] peak_dbfs and rms_dbfs since the last call, held_dbfs and clips since the
      #   last reset; one a lane (the same again when no block came in between)
      def take
        @lock.synchronize do
          read unless @frame && @added.zero?
          @frame
        end
      end

      # @return [Array<Array<Float>>] peaks in dBFS of each two seconds, oldest first, one a lane
      def ribbon = @lock.synchronize { @ribbon.rotate(@ribbon_at).compact }

      # Held peaks and clips begin anew, of the lanes given or of all.
      #
      # @param lanes [Array<Integer>, nil] from 1
      def reset(lanes = nil)
        @lock.synchronize do
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
        @frame = {peak_dbfs: db(@peak), rms_dbfs: (@square / [@added, 1].max).to_a.map { |value| Audio::Scale.rms_dbfs(value).round(1) },
                  held_dbfs: db(@held), clips: @clips.to_a}
        clear_now
      end

      def gather(peak, square, clipped)
        @peak = Numo::SFloat.maximum(@peak, peak)
        @held = Numo::SFloat.maximum(@held, peak)
        @square += square
        @added += 1
        @ribbon_peak = Numo::SFloat.maximum(@ribbon_peak, peak)
        @clips += Numo::Int32.cast(clipped) if clipped.any?
        @blocks += 1
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

      def db(ratios) = ratios.to_a.map { |ratio| Audio::Scale.dbfs(ratio).round(1) }
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Levels of every lane: now, and the last ten minutes.
    #
    # The block loop adds blocks; any thread takes what has gathered since it last asked.
    class Meters
      # The ribbon: one value every two seconds for ten minutes.
      RIBBON_S = 2
      RIBBON_VALUES = 300
      FULL_SCALE = Audio::Scale::FULL_SCALE_S32.to_f
      # The highest 24-bit sample: what a converter gives when it is overrun.
      CLIP = Audio::Scale::FULL_SCALE_S32 - 2**8
      private_constant :RIBBON_S, :RIBBON_VALUES, :FULL_SCALE, :CLIP

      # @param format [Device::Format]
      def initialize(format)
        @lanes = format.lanes_in
        @ribbon_blocks = (RIBBON_S * format.rate_hz.to_f / format.block_frames).round
        @ribbon = Array.new(RIBBON_VALUES) { nil }
        @ribbon_at = 0
        @lock = Mutex.new
        @clips = Numo::Int32.zeros(@lanes)
        clear_now
        clear_ribbon
      end

      # @param samples [Numo::Int32] [frames, lanes]
      def add(samples)
        low, high = samples.minmax(0)
        scaled = Numo::SFloat.cast(samples) / FULL_SCALE
        square = (scaled * scaled).mean(0)
        peak = Numo::SFloat.maximum(Numo::SFloat.cast(high), -Numo::SFloat.cast(low)) / FULL_SCALE
        clipped = (high >= CLIP) | (low <= -CLIP)
        @lock.synchronize { gather(peak, square, clipped) }
      end

      # @return [Hash] peak_dbfs, rms_dbfs, clips: one a lane, since the last call (the same
      #   again when no block came in between)
      def take
        @lock.synchronize do
          read unless @frame && @added.zero?
          @frame
        end
      end

      # @return [Array<Array<Float>>] peaks in dBFS of each two seconds, oldest first, one a lane
      def ribbon
        @lock.synchronize { @ribbon.rotate(@ribbon_at).compact }
      end

      def reset_clips = @lock.synchronize { @clips = Numo::Int32.zeros(@lanes) }

      private

      def read
        @frame = {peak_dbfs: db(@peak), rms_dbfs: @square.to_a.map { |value| Audio::Scale.rms_dbfs(value).round(1) }, clips: @clips.to_a}
        clear_now
      end

      def gather(peak, square, clipped)
        @peak = Numo::SFloat.maximum(@peak, peak)
        @square = square
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
        @added = 0
        @square ||= Numo::SFloat.zeros(@lanes)
      end

      def clear_ribbon
        @ribbon_peak = Numo::SFloat.zeros(@lanes)
        @blocks = 0
      end

      def db(ratios) = ratios.to_a.map { |ratio| Audio::Scale.dbfs(ratio).round(1) }
    end
  end
end

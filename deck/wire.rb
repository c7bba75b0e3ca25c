# frozen_string_literal: true

module Loomshuttle
  module Deck
    # Rendered sound as the playback ring has it: block by block, interleaved, 32 bit.
    #
    #   Wire.blocks(samples, 1024, overs)   # => [[bytes, [0.5, 0.1]], ...]
    module Wire
      module_function

      # What lies over full scale is clipped, and counted: never silently.
      #
      # @param samples [Numo::SFloat] [lanes, blocks of frames]
      # @param overs [Hash{Integer => Integer}] blocks over full scale by lane, added to
      # @return [Array<Array(String, Array<Float>)>] a block each: bytes, and each lane's peak
      def blocks(samples, block_frames, overs)
        lanes, frames = samples.shape
        peaks = (0...frames).step(block_frames).map { |from| peaks(samples[true, from...(from + block_frames)]) }
        full = Audio::Scale::FULL_SCALE_S32.to_f
        scaled = samples * full
        clipped = scaled.inplace.rint.clip(-full, Audio::Scale::MAX_FLOAT_S32)
        wide = Numo::Int32.cast(clipped.transpose)
        bytes = wide.to_binary
        # A second of 64 lanes is 12 MB, each time: as garbage it would keep the collector busy.
        [scaled, clipped, wide].each(&:free)
        cut(bytes, peaks, block_frames * lanes * 4, overs).tap { bytes.clear }
      end

      def peaks(block)
        low, high = block.minmax(1)
        Numo::SFloat.maximum(high, -low).to_a
      end

      def cut(bytes, peaks, block_bytes, overs)
        peaks.map.with_index do |lane_peaks, block|
          lane_peaks.each_with_index { |peak, lane| overs[lane + 1] = overs.fetch(lane + 1, 0) + 1 if peak > 1.0 }
          [bytes.byteslice(block * block_bytes, block_bytes), lane_peaks]
        end
      end
      private_class_method :peaks, :cut
    end
  end
end

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
        low, high = samples.reshape(lanes, frames / block_frames, block_frames).minmax(2)
        peaks = Numo::SFloat.maximum(high, -low).transpose.to_a
        full = Audio::Scale::FULL_SCALE_S32.to_f
        samples = (samples * full).inplace.rint.clip(-full, Audio::Scale::MAX_FLOAT_S32)
        bytes = Numo::Int32.cast(samples.transpose).to_binary
        peaks.map.with_index do |lane_peaks, block|
          lane_peaks.each_with_index { |peak, lane| overs[lane + 1] = overs.fetch(lane + 1, 0) + 1 if peak > 1.0 }
          [bytes.byteslice(block * block_frames * lanes * 4, block_frames * lanes * 4), lane_peaks]
        end
      end
    end
  end
end

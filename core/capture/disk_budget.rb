# frozen_string_literal: true

module Loomshuttle
  module Capture
    # How much time a disk still holds.
    module DiskBudget
      BYTES_PER_SAMPLE = 3
      # Stop before a disk is full to the last byte: headers and the system need room.
      MARGIN_BYTES = 256 * 1024 * 1024

      module_function

      # @param encoding [String] of TakePlan::ENCODINGS
      # @return [Integer] bytes a sample
      def sample_bytes(encoding) = (encoding == "float32") ? 4 : BYTES_PER_SAMPLE

      # @param bytes [Integer] a sample: 3 for 24 bit, 4 for float
      # @return [Integer] bytes a second of that many tracks
      def rate_bytes_per_s(tracks, sample_rate_hz, bytes: BYTES_PER_SAMPLE) = tracks * sample_rate_hz * bytes

      # @return [Float, nil] seconds, nil where nothing is armed
      def seconds_left(free_bytes, tracks, sample_rate_hz, margin_bytes: MARGIN_BYTES, bytes: BYTES_PER_SAMPLE)
        return nil if tracks == 0

        [(free_bytes - margin_bytes).to_f / rate_bytes_per_s(tracks, sample_rate_hz, bytes: bytes), 0.0].max
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Capture
    # How much time a disk still holds.
    module DiskBudget
      BYTES_PER_SAMPLE = 3
      # Stop before a disk is full to the last byte: headers and the system need room.
      MARGIN_BYTES = 256 * 1024 * 1024

      module_function

      # @return [Integer] bytes a second of that many 24-bit tracks
      def rate_bytes_per_s(tracks, sample_rate_hz) = tracks * sample_rate_hz * BYTES_PER_SAMPLE

      # @return [Float, nil] seconds, nil where nothing is armed
      def seconds_left(free_bytes, tracks, sample_rate_hz)
        return nil if tracks == 0

        [(free_bytes - MARGIN_BYTES).to_f / rate_bytes_per_s(tracks, sample_rate_hz), 0.0].max
      end
    end
  end
end

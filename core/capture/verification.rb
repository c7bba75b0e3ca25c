# frozen_string_literal: true

require "zlib"

module Loomshuttle
  module Capture
    # Whether a file of a take holds what the take's journal says of it.
    module Verification
      PIECE_BYTES = 4 * 1024 * 1024
      private_constant :PIECE_BYTES

      module_function

      # @param io [IO] binary
      # @param frames, sample_rate_hz [Integer, nil] wanted; nil is not checked
      # @param crc32 [String, nil] eight hex digits, of the samples' bytes
      # @return [Array<String>] what is wrong, in words
      # @raise [Audio::Wav::Malformed]
      def of(io, frames: nil, sample_rate_hz: nil, crc32: nil)
        reader = Audio::Wav::Reader.new(io)
        [*reader.warnings, differs("frames", reader.frames, frames), differs("Hz", reader.format.sample_rate_hz, sample_rate_hz),
          (differs("as checksum", checksum(io, reader), crc32) if crc32)].compact
      end

      # @return [String] CRC-32 of the samples' bytes, eight hex digits
      def checksum(io, reader)
        left = reader.frames * reader.format.frame_bytes
        io.seek(reader.chunks["data"].offset)
        sum = 0
        while left > 0 && (bytes = io.read([left, PIECE_BYTES].min))
          sum = Zlib.crc32(bytes, sum)
          left -= bytes.bytesize
        end
        format("%08x", sum)
      end

      def differs(unit, found, wanted) = (wanted && found != wanted) ? "it has #{found} #{unit}, the take says #{wanted}" : nil
      private_class_method :differs
    end
  end
end

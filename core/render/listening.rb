# frozen_string_literal: true

module Loomshuttle
  module Render
    # A program as one WAV file that is never written: 16-bit stereo, of known length, any part of
    # which is rendered when it is asked for. So a browser listens to a take of an hour without a
    # file being made or held in memory.
    #
    #   whole = Listening.new(program)
    #   whole.bytes            # length of the file
    #   whole.each(44, 1000)   # yields its bytes from 44 to 999
    class Listening
      HEADER_BYTES = 44
      FRAME_BYTES = 4
      # Rendered at a time.
      PIECE_FRAMES = 16_384
      # RIFF counts with 32 bits.
      BYTES_MAX = 2**32 - 1
      private_constant :HEADER_BYTES, :FRAME_BYTES, :PIECE_FRAMES, :BYTES_MAX

      # @param program [Program] its lanes 1 and 2 are left and right
      # @param gain [Float] ratio for all of it
      def initialize(program, gain: 1.0)
        @program = program
        @gain = gain
        @renderer = Renderer.new(lanes: 2)
        @frames = [program.length_frames, (BYTES_MAX - HEADER_BYTES) / FRAME_BYTES].min
      end

      def bytes = HEADER_BYTES + @frames * FRAME_BYTES

      # @param from, to [Integer] bytes, the last one excluded
      # @yield [String]
      def each(from, to)
        yield header.byteslice(from, [to, HEADER_BYTES].min - from) if from < HEADER_BYTES
        at = [from - HEADER_BYTES, 0].max
        while at < to - HEADER_BYTES
          first = at / FRAME_BYTES
          piece = samples(first, [PIECE_FRAMES, @frames - first].min)
          part = piece.byteslice(at % FRAME_BYTES, to - HEADER_BYTES - at)
          yield part
          at += part.bytesize
        end
      end

      def close = @program.voices.each { |voice| voice.source.close }

      private

      def header
        data = @frames * FRAME_BYTES
        ["RIFF", 36 + data, "WAVE", "fmt ", 16, Audio::Wav::PCM, 2, @program.rate_hz, @program.rate_hz * FRAME_BYTES, FRAME_BYTES, 16, "data", data].pack("a4Va4a4VvvVVvva4V")
      end

      def samples(first, count)
        mixed = @renderer.block(@program, first, count) * (@gain * 32_767)
        Numo::Int16.cast(mixed.rint.clip(-32_768, 32_767)).transpose.dup.to_binary
      end
    end
  end
end

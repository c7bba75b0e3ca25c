# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # The header of a one-channel 24-bit Broadcast Wave file. Its length never changes, so
      # it can be written again in place while the file grows; beyond 4 GiB the reserved
      # JUNK chunk becomes the ds64 of an RF64 file (EBU Tech 3306).
      class Header
        BITS = 24
        FRAME_BYTES = BITS / 8
        # Size of a ds64 chunk's body without a table, reserved by JUNK until it is needed.
        DS64_BYTES = 28
        SIZE_MAX = 0xFFFFFFFF
        # KSDATAFORMAT_SUBTYPE_PCM behind its format tag.
        PCM_GUID_TAIL = "\x00\x00\x00\x00\x10\x00\x80\x00\x00\xAA\x00\x38\x9B\x71".b.freeze
        # Speaker mask of a single channel.
        FRONT_CENTRE = 4
        private_constant :DS64_BYTES, :SIZE_MAX, :PCM_GUID_TAIL, :FRONT_CENTRE

        # @param track_name [String] any text; written as iXML
        def initialize(sample_rate_hz:, bext:, track_name:)
          @sample_rate_hz = sample_rate_hz
          @middle = chunk("bext", bext.to_s) + chunk("iXML", IXml.single(track_name)) + chunk("fmt ", fmt)
        end

        # @param frames [Integer] that the file holds now
        # @return [String] everything before the first sample
        def bytes(frames)
          data_bytes = frames * FRAME_BYTES
          riff_bytes = size - 8 + data_bytes + data_bytes % 2
          return small(riff_bytes, data_bytes) if riff_bytes <= SIZE_MAX

          ds64 = [riff_bytes, data_bytes, frames, 0].pack("Q<Q<Q<V")
          ["RF64", SIZE_MAX, "WAVE"].pack("a4Va4") + chunk("ds64", ds64) + @middle + ["data", SIZE_MAX].pack("a4V")
        end

        # @return [Integer] bytes before the first sample
        def size = 12 + 8 + DS64_BYTES + @middle.bytesize + 8

        private

        def small(riff_bytes, data_bytes)
          ["RIFF", riff_bytes, "WAVE"].pack("a4Va4") + chunk("JUNK", "\0" * DS64_BYTES) + @middle + ["data", data_bytes].pack("a4V")
        end

        # More than 16 bits ask for WAVE_FORMAT_EXTENSIBLE.
        def fmt
          [EXTENSIBLE, 1, @sample_rate_hz, @sample_rate_hz * FRAME_BYTES, FRAME_BYTES, BITS, 22, BITS, FRONT_CENTRE, PCM].pack("vvVVvvvvVv") + PCM_GUID_TAIL
        end

        def chunk(id, body)
          [id, body.bytesize].pack("a4V") + body.b + ("\0" * (body.bytesize % 2))
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # The header of a Broadcast Wave file of any number of channels, 24-bit PCM or 32-bit
      # float. Its length never changes, so it can be written again in place while the file
      # grows; beyond 4 GiB the reserved JUNK chunk becomes the ds64 of an RF64 file (EBU Tech
      # 3306). Every chunk before the samples has an even size: readers that know RF64 but not
      # its pad byte find the samples too.
      #
      #   header = Header.new(sample_rate_hz: 48_000, bext: bext, track_names: ["Kick"])
      #   file.write(header.bytes(0))
      class Header
        ENCODINGS = {"pcm24" => [PCM, 24], "float32" => [FLOAT, 32]}.freeze
        # Size of a ds64 chunk's body without a table, reserved by JUNK until it is needed.
        DS64_BYTES = 28
        SIZE_MAX = 0xFFFFFFFF
        # KSDATAFORMAT_SUBTYPE_... behind its format tag.
        GUID_TAIL = "\x00\x00\x00\x00\x10\x00\x80\x00\x00\xAA\x00\x38\x9B\x71".b.freeze
        # Speaker masks: one channel is the centre, two are left and right, more say nothing.
        SPEAKERS = {1 => 4, 2 => 3}.freeze
        private_constant :DS64_BYTES, :SIZE_MAX, :GUID_TAIL, :SPEAKERS

        attr_reader :frame_bytes

        # @param track_names [Array<String>] any texts, one a channel; written as iXML
        # @param encoding [String] of ENCODINGS
        # @param markers [Array<Hash>] {frame:, label:} that are known before the first sample is
        def initialize(sample_rate_hz:, bext:, track_names:, encoding: "pcm24", markers: [])
          @sample_rate_hz = sample_rate_hz
          @channels = track_names.size
          @tag, @bits = ENCODINGS.fetch(encoding)
          @frame_bytes = @channels * @bits / 8
          @middle = chunk("bext", bext.to_s) + chunk("iXML", IXml.tracks(track_names)) + Cues.chunks(markers).map { |id, body| chunk(id, body) }.join + chunk("fmt ", fmt)
        end

        # @param frames [Integer] that the file holds now
        # @return [String] everything before the first sample
        def bytes(frames)
          data_bytes = frames * frame_bytes
          riff_bytes = size - 8 + data_bytes + data_bytes % 2
          return small(frames, riff_bytes, data_bytes) if riff_bytes <= SIZE_MAX

          ds64 = [riff_bytes, data_bytes, frames, 0].pack("Q<Q<Q<V")
          ["RF64", SIZE_MAX, "WAVE"].pack("a4Va4") + chunk("ds64", ds64) + @middle + fact(SIZE_MAX) + ["data", SIZE_MAX].pack("a4V")
        end

        # @return [Integer] bytes before the first sample
        def size = 12 + 8 + DS64_BYTES + @middle.bytesize + fact(0).bytesize + 8

        private

        def small(frames, riff_bytes, data_bytes)
          ["RIFF", riff_bytes, "WAVE"].pack("a4Va4") + chunk("JUNK", "\0" * DS64_BYTES) + @middle + fact(frames) + ["data", data_bytes].pack("a4V")
        end

        # More than 16 bits ask for WAVE_FORMAT_EXTENSIBLE.
        def fmt
          [EXTENSIBLE, @channels, @sample_rate_hz, @sample_rate_hz * frame_bytes, frame_bytes, @bits, 22, @bits, SPEAKERS.fetch(@channels, 0), @tag]
            .pack("vvVVvvvvVv") + GUID_TAIL
        end

        # What is no PCM says its number of frames once more.
        def fact(frames) = (@tag == FLOAT) ? chunk("fact", [[frames, SIZE_MAX].min].pack("V")) : ""

        def chunk(id, body)
          raise ArgumentError, "the chunk #{id} has an odd size" if body.bytesize.odd?

          [id, body.bytesize].pack("a4V") + body.b
        end
      end
    end
  end
end

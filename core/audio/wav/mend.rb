# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # Makes the sizes in a file's header fit what is there: for a file whose recorder was cut
      # off. Every sample that is whole stays, half a frame at the end goes; where the file has
      # grown past 4 GiB a reserved JUNK chunk becomes its ds64 (EBU Tech 3306).
      #
      #   Mend.new(io).call   # => frames
      class Mend
        SIZE_MAX = 0xFFFFFFFF
        private_constant :SIZE_MAX

        # @param io [IO] seekable, readable and writable, that can be truncated
        # @raise [Malformed] when it is no WAV, or nothing says its format
        def initialize(io)
          @io = io
          @reader = Reader.new(io)
          @data = @reader.chunks["data"]
          @frame_bytes = @reader.format.frame_bytes
        end

        # @return [Boolean] whether the header says something else than the file holds
        def needed? = frames_there != @reader.frames || @reader.chunks.warnings.any?

        # @return [Integer] frames that lie whole behind the header: up to its end, unless other
        #   chunks follow the samples
        def frames_there = (samples_end - @data.offset) / @frame_bytes

        # @return [Integer] frames
        def call
          frames = frames_there
          bytes = frames * @frame_bytes
          if samples_end == length
            @io.truncate(@data.offset + bytes)
            pad(bytes)
          end
          write_sizes(bytes, frames)
          frames
        end

        private

        def length = @io.seek(0, IO::SEEK_END).then { @io.pos }

        # Samples go on to the end of the file, unless what follows the stated end is a chunk.
        def samples_end
          @samples_end ||= begin
            stated = @data.offset + @data.size
            follows = stated + @data.size % 2
            chunk_at?(follows) ? stated : length
          end
        end

        # An id of four printable letters and a size that ends where the file, or a further chunk, does.
        def chunk_at?(at)
          return false if at + 8 > length

          @io.seek(at)
          id, size = @io.read(8).unpack("a4V")
          id.match?(/\A[A-Za-z0-9_ ]{4}\z/n) && at + 8 + size <= length + 1 && (at + 8 + size >= length - 1 || chunk_at?(at + 8 + size + size % 2))
        end

        def pad(bytes)
          return unless bytes.odd?

          @io.seek(0, IO::SEEK_END)
          @io.write("\0")
        end

        def write_sizes(bytes, frames)
          riff_bytes = length - 8
          return write64(riff_bytes, bytes, frames) if riff_bytes > SIZE_MAX || @reader.chunks.container != "RIFF"

          put(4, [riff_bytes].pack("V"))
          put(@data.offset - 4, [bytes].pack("V"))
          fact(frames)
        end

        def write64(riff_bytes, bytes, frames)
          room = @reader.chunks["ds64"] || @reader.chunks["JUNK"]
          raise Malformed.new(value: "#{riff_bytes} bytes", allowed: "a file over 4 GiB needs a reserved JUNK chunk to become RF64") unless room && room.size >= 28

          put(0, ["RF64", SIZE_MAX].pack("a4V"))
          put(room.offset - 8, "ds64")
          put(room.offset, [riff_bytes, bytes, frames, 0].pack("Q<Q<Q<V"))
          put(@data.offset - 4, [SIZE_MAX].pack("V"))
          fact(frames)
        end

        def fact(frames)
          chunk = @reader.chunks["fact"]
          put(chunk.offset, [[frames, SIZE_MAX].min].pack("V")) if chunk && chunk.size >= 4 && chunk.offset < @data.offset
        end

        def put(at, bytes)
          @io.seek(at)
          @io.write(bytes)
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # Walks the chunks of a RIFF or RF64 file without trusting any of its sizes: the
      # file's real length is the only truth, and every lie is noted as a warning.
      class Chunks
        Found = Value.of(:id, :offset, :size)

        # More chunks than any honest file has; the rest of a hostile one is left alone.
        COUNT_MAX = 1000
        # An open file of unknown length carries this size (RF64, and streams).
        UNKNOWN_SIZE = 0xFFFFFFFF
        private_constant :COUNT_MAX, :UNKNOWN_SIZE

        attr_reader :container, :warnings, :length

        # @param io [IO] seekable, binary
        # @raise [Malformed]
        def initialize(io)
          @io = io
          @warnings = []
          @length = io.seek(0, IO::SEEK_END).then { io.pos }
          read_head
          @found = walk
        end

        # @return [Found, nil] the first chunk of that id
        def [](id) = @found.find { |chunk| chunk.id == id }
        # @return [Array<Found>] every one of that id
        def all(id) = @found.select { |chunk| chunk.id == id }

        # @return [String] the body, at most `limit` bytes of it
        def body(chunk, limit: 16 * 1024 * 1024)
          @io.seek(chunk.offset)
          @io.read([chunk.size, limit].min) || ""
        end

        private

        def read_head
          raise Malformed.new(value: "an empty file", allowed: "a WAV file") if @length == 0

          @io.seek(0)
          head = @io.read(12).to_s
          @container = head[0, 4]
          unless %w[RIFF RF64 BW64].include?(@container) && head[8, 4] == "WAVE"
            raise Malformed.new(value: head[0, 12].to_s, allowed: "a WAV file begins with RIFF or RF64 and WAVE")
          end
          @riff_size = riff_size = head.unpack1("V", offset: 4)
          if @container == "RIFF" && riff_size + 8 != @length && riff_size + 8 != @length - @length % 2
            @warnings << "the header says #{riff_size + 8} bytes, the file has #{@length}"
          end
        end

        def walk
          found = []
          at = 12
          while at + 8 <= @length && found.size < COUNT_MAX
            chunk = chunk_at(at, found) or break
            found << chunk
            at = chunk.offset + chunk.size
            at += 1 if chunk.size.odd? && padded?(at)
          end
          found
        end

        def chunk_at(at, found)
          @io.seek(at)
          id, size = @io.read(8).unpack("a4V")
          left = @length - at - 8
          size = size64(found) || size if id == "data" && size == UNKNOWN_SIZE
          size = left if id == "data" && size == 0 && never_finished?(at)
          if size > left
            @warnings << "the chunk \"#{readable(id)}\" says #{size} bytes, #{left} are there"
            size = left
          end
          Found.new(id: id, offset: at + 8, size: size)
        end

        # A recorder that was cut off never wrote its sizes: what follows are samples, not chunks.
        def never_finished?(at)
          unwritten = [0, UNKNOWN_SIZE].include?(@riff_size) || @riff_size + 8 <= at + 8
          return false unless unwritten && @length > at + 8

          @warnings << "its sizes were never written; all up to its end is taken as samples"
          true
        end

        # What is no text is shown as one all the same.
        def readable(id) = id.dup.force_encoding("UTF-8").scrub("?").gsub(/[[:cntrl:]]/, "?")

        # EBU Tech 3306: the ds64 chunk holds riff size, data size and sample count.
        def size64(found)
          ds64 = found.find { |chunk| chunk.id == "ds64" }
          body(ds64).unpack1("Q<", offset: 8) if ds64 && ds64.size >= 16
        end

        # Odd chunks end in a pad byte; some writers leave it out.
        def padded?(at)
          @io.seek(at)
          bytes = @io.read(5).to_s
          return true if bytes.empty? || bytes.getbyte(0) == 0

          @warnings << "a chunk of odd size has no pad byte"
          false
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Audio
    module Wav
      # Reads any WAV that this product understands: 16, 24 and 32 bit, 32 and 64 bit float,
      # any number of channels, plain or extensible, RIFF or RF64, as far as it is good.
      class Reader
        attr_reader :format, :frames, :warnings, :chunks

        # @param io [IO] seekable, binary
        # @raise [Malformed] when nothing can be read from it
        def initialize(io)
          @io = io
          @chunks = Chunks.new(io)
          @warnings = @chunks.warnings
          fmt = @chunks["fmt "] or raise Malformed.new(value: "no fmt chunk", allowed: "a WAV file says its format")
          @format = Format.parse(@chunks.body(fmt))
          @data = @chunks["data"] or raise Malformed.new(value: "no data chunk", allowed: "a WAV file holds samples")
          @frames = @data.size / @format.frame_bytes
          note_remains
        end

        # @param from [Integer] first frame
        # @param count [Integer] frames; fewer come back at the end of the file
        # @return [Numo::Int32] [frames, channels], full scale 2^31
        def read_s32(from, count)
          count = [count, @frames - from].min
          return Numo::Int32.zeros(0, @format.channels) if count <= 0

          @io.seek(@data.offset + from * @format.frame_bytes)
          bytes = @io.read(count * @format.frame_bytes).to_s
          # The bytes are given back at once, not when the collector comes by.
          Samples.to_s32(bytes, bytes.bytesize / @format.frame_bytes, @format).tap { bytes.clear }
        end

        # The same as they sound: what lies in a file as such numbers is taken as it is, which is many times as fast as what
        # has to be unpacked.
        #
        # @return [Numo::SFloat] [frames, channels], full scale 1; samples that are no number are silence
        def read_float(from, count)
          return float_of_s32(from, count) unless @format.encoding == "float" && @format.bits == 32

          count = [count, @frames - from].min
          return Numo::SFloat.zeros(0, @format.channels) if count <= 0

          @io.seek(@data.offset + from * @format.frame_bytes)
          bytes = @io.read(count * @format.frame_bytes).to_s
          Samples.of_float(bytes, [bytes.bytesize / @format.frame_bytes, @format.channels]).tap { bytes.clear }
        end

        # Has the system read on meanwhile, where it can.
        def fetch(from, count)
          count = [count, @frames - from].min
          @io.advise(:willneed, @data.offset + from * @format.frame_bytes, count * @format.frame_bytes) if count.positive? && @io.respond_to?(:advise)
        end

        # @yield [Numo::Int32] the whole file, a block of frames at a time
        def each_block(block_frames = 65_536)
          (0...@frames).step(block_frames) { |from| yield read_s32(from, block_frames) }
        end

        # @return [Bext, nil] the Broadcast Wave extension
        def bext
          chunk = @chunks["bext"]
          @bext ||= chunk && Bext.parse(@chunks.body(chunk))
        end

        # @return [Array<String>] names from the iXML track list, in channel order
        def track_names
          chunk = @chunks["iXML"]
          chunk ? IXml.track_names(@chunks.body(chunk)) : []
        end

        # When it begins, as Broadcast Wave tells (TimeReference), else as iXML does.
        #
        # @return [Integer, nil] samples since midnight
        def time_reference_samples
          return bext.time_reference_samples if bext

          chunk = @chunks["iXML"]
          seconds = chunk && IXml.seconds_since_midnight(@chunks.body(chunk))
          seconds && (seconds * @format.sample_rate_hz).round
        end

        # @return [Array<Hash>] {frame:, label:}
        def markers = Cues.parse(@chunks)

        private

        # All in one row, for the sake of files of one channel (see Samples).
        def float_of_s32(from, count)
          samples = read_s32(from, count)
          return Numo::SFloat.zeros(0, @format.channels) if samples.empty?

          shape = samples.shape
          # Of an array of two axes reshape loses the old shape's memory each time (numo-narray 0.9.2): of a row it does not.
          floats = Numo::SFloat.cast(samples.flatten)
          samples.free
          (floats.inplace! * (1.0 / Scale::FULL_SCALE_S32)).out_of_place!.reshape!(*shape)
        end

        def note_remains
          @warnings << "it holds no frames" if @frames == 0
          odd = @data.size % @format.frame_bytes
          @warnings << "the last frame is cut short by #{@format.frame_bytes - odd} bytes" if odd > 0
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Engine
    # One growing Broadcast Wave file. Its header can be refreshed at any time, so that the
    # file is whole up to there whatever happens next.
    class TakeFile
      Header = Audio::Wav::Header
      private_constant :Header

      attr_reader :frames

      # @param spec [Hash] file (name), name (of the track), string keys
      # @param take [Hash] sample_rate_hz, time_reference_samples, date, time
      def self.header(spec, take)
        bext = Audio::Wav::Bext.new(time_reference_samples: take["time_reference_samples"],
          description: ascii(spec["name"]),
          originator: "Loomshuttle",
          date: take["date"],
          time: take["time"],
          coding_history: "A=PCM,F=#{take["sample_rate_hz"]},W=24,M=mono,T=Loomshuttle\r\n")
        Header.new(sample_rate_hz: take["sample_rate_hz"], bext: bext, track_name: spec["name"])
      end

      # EBU Tech 3285 has ASCII in its text fields; the whole name stands in iXML.
      def self.ascii(text) = text.unicode_normalize(:nfkd).encode("US-ASCII", undef: :replace, invalid: :replace, replace: "")

      # Makes the header of a file that was left open fit its length.
      #
      # @return [Integer] frames that it holds
      def self.repair(path, spec, take)
        head = header(spec, take)
        File.open(path, "r+b") do |file|
          frames = [(file.size - head.size) / Header::FRAME_BYTES, 0].max
          file.truncate(head.size + frames * Header::FRAME_BYTES) if file.size > head.size
          file.pwrite(head.bytes(frames), 0)
          frames
        end
      rescue SystemCallError
        0
      end

      def initialize(folder, spec, take)
        @header = self.class.header(spec, take)
        @frames = 0
        # EXCL: a take never writes over what is there.
        @file = File.open(File.join(folder, spec["file"]), File::RDWR | File::CREAT | File::EXCL | File::BINARY)
        @file.sync = true
        @file.write(@header.bytes(0))
      end

      # @param bytes [String] 24-bit samples
      def write(bytes)
        @file.write(bytes)
        @frames += bytes.bytesize / Header::FRAME_BYTES
      end

      def refresh = @file.pwrite(@header.bytes(@frames), 0)
      def sync = @file.fdatasync

      # RIFF pads an odd chunk with one byte.
      def close
        @file.write("\0") if @frames.odd?
        refresh
        @file.fdatasync
        @file.close
      end
    end
  end
end

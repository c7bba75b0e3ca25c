# frozen_string_literal: true

require "zlib"

module Loomshuttle
  module Engine
    # One growing Broadcast Wave file: a stretch of one track. Its header can be refreshed at any
    # time, so that the file is whole up to there whatever happens next.
    #
    #   file = StretchFile.new(folder, plan, track, part: 1, from_frame: 0, origin: origin)
    #   file.add(batch)      # several blocks, one write
    #   file.close
    class StretchFile
      # A block whose peak stays under this is silent, whatever hum a preamp has; common practice.
      SILENT = (10**(-60 / 20.0) * Audio::Scale::FULL_SCALE_S32).round
      # The highest 24-bit sample: what a converter gives when it is overrun.
      CLIP = Audio::Scale::FULL_SCALE_S32 - 2**8
      private_constant :SILENT

      # The take's beginning as date, time and samples since midnight, for Broadcast Wave.
      Origin = Value.of(:start_frame, :time_reference_samples, :date, :time) do
        def samples_at(frame) = [time_reference_samples + frame - start_frame, 0].max
      end

      # @return [Audio::Wav::Header]
      def self.header(plan, track, samples)
        bits = (plan.encoding == "float32") ? 32 : 24
        mode = track.stereo? ? "stereo" : "mono"
        bext = Audio::Wav::Bext.new(time_reference_samples: samples.time_reference_samples,
          description: ascii(track.name),
          originator: "Loomshuttle",
          date: samples.date,
          time: samples.time,
          coding_history: "A=PCM,F=#{plan.sample_rate_hz},W=#{bits},M=#{mode},T=Loomshuttle\r\n")
        Audio::Wav::Header.new(sample_rate_hz: plan.sample_rate_hz, bext: bext, track_names: track.channel_names, encoding: plan.encoding)
      end

      # EBU Tech 3285 has ASCII in its text fields; the whole name stands in iXML.
      def self.ascii(text) = text.unicode_normalize(:nfkd).encode("US-ASCII", undef: :replace, invalid: :replace, replace: "")

      # Makes the header of a file that was left open fit its length.
      #
      # @return [Integer] frames that it holds
      # @raise [BadInput, SystemCallError]
      def self.repair(path)
        File.open(path, "r+b") { |file| Audio::Wav::Mend.new(file).call.tap { file.fdatasync } }
      end

      attr_reader :track, :part, :name, :from_frame, :frames

      # EXCL: a take never writes over what is there.
      #
      # @raise [SystemCallError]
      def initialize(folder, plan, track, part:, from_frame:, origin:)
        @track, @part, @from_frame = track, part, from_frame
        @name = track.file_name(part)
        @header = self.class.header(plan, track, origin.with(time_reference_samples: origin.samples_at(from_frame)))
        @float = plan.encoding == "float32"
        @lanes = track.lanes.map { |lane| lane - 1 }
        @frames = 0
        @crc32 = 0
        @peaks = @lanes.map { 0 }
        @clips = @lanes.map { 0 }
        @silent = @lanes.map { 0 }
        @longest = @lanes.map { 0 }
        @file = File.open(File.join(folder, @name), File::RDWR | File::CREAT | File::EXCL | File::BINARY, 0o640)
        @file.sync = true
        @file.write(@header.bytes(0))
      end

      # Frame behind its last one.
      def to_frame = from_frame + frames

      # Several blocks in one write.
      #
      # @param batch [Batch]
      # @raise [SystemCallError]
      def add(batch)
        channels = @lanes.map { |lane| batch.lane(lane) }
        write(encoded(channels), batch.frames)
        @lanes.each_with_index { |lane, channel| tally(channel, batch.peak(lane), batch.clips(lane), batch.frames) }
      end

      # @param frames [Integer] that never came
      # @raise [SystemCallError]
      def add_silence(frames)
        @lanes.each_index { |channel| tally(channel, 0, 0, frames) }
        while frames > 0
          count = [frames, SILENCE_FRAMES].min
          write([("\0" * (count * @header.frame_bytes)).b], count)
          frames -= count
        end
      end

      SILENCE_FRAMES = 16_384
      private_constant :SILENCE_FRAMES

      # @raise [SystemCallError]
      def refresh = @file.pwrite(@header.bytes(@frames), 0)
      def sync = @file.closed? || @file.fdatasync

      # RIFF pads an odd chunk with one byte.
      #
      # @raise [SystemCallError]
      def close
        seal
        @file.fdatasync
      ensure
        @file.close
      end

      # For a disk that refused: what it took stays, cut to whole frames, with a header that says so.
      #
      # @return [String, nil] what even this was refused with
      def give_up
        seal
        nil
      rescue SystemCallError => e
        e.message
      ensure
        @file.close unless @file.closed?
      end

      # @return [Integer] frames of the longest silence so far, of its quieter side
      def longest_silence_frames = @longest.max

      # What a report says of it.
      def levels(rate_hz)
        {crc32: format("%08x", @crc32), peaks_dbfs: @peaks.map { |peak| Audio::Scale.dbfs(peak / Audio::Scale::FULL_SCALE_S32.to_f).round(1) }, clips: @clips,
         silence_s: @longest.map { |frames| (frames / rate_hz.to_f).round(1) }}
      end

      private

      # A write that was refused half-way leaves bytes that are no whole frame.
      def seal
        data_bytes = @frames * @header.frame_bytes
        @file.truncate(@header.size + data_bytes) if @file.size > @header.size + data_bytes
        @file.pwrite(@header.bytes(@frames), 0)
        @file.pwrite("\0", @header.size + data_bytes) if data_bytes.odd?
      end

      def write(pieces, frames)
        @file.write(*pieces)
        pieces.each do |bytes|
          @crc32 = Zlib.crc32(bytes, @crc32)
          bytes.clear
        end
        @frames += frames
      end

      # @param channels [Array<Array<String>>] pieces of 24-bit samples of each channel
      # @return [Array<String>] pieces as they stand in the file
      def encoded(channels)
        return channels.first unless @float || channels.size > 1

        channels = channels.map { |pieces| pieces.map { |bytes| Audio::Wav::Samples.float_of_24(bytes) } } if @float
        channels.transpose.map { |parts| Audio::Wav::Samples.interleave(parts, @float ? 4 : 3) }
      end

      def tally(channel, peak, clips, frames)
        @peaks[channel] = peak if peak > @peaks[channel]
        @clips[channel] += clips
        @silent[channel] = (peak < SILENT) ? @silent[channel] + frames : 0
        @longest[channel] = @silent[channel] if @silent[channel] > @longest[channel]
      end
    end
  end
end

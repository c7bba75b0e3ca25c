# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Files
    # Writes a whole Broadcast Wave file of 24 bit, block by block: it is there when all of it is there, and not before;
    # what went wrong leaves nothing behind.
    #
    #   WavWriter.write("click.wav", rate_hz: 48_000, names: ["click"], frames: 96_000) { |from, count| Numo::SFloat.zeros(1, count) }
    #   WavWriter.write_all([one, other], frames: 96_000) { |from, count| Numo::SFloat.zeros(2, count) }   # a file for each of the channels
    class WavWriter
      BLOCK_FRAMES = 16_384
      # What one of several processes renders in one go.
      STRETCH_FRAMES = 16 * BLOCK_FRAMES
      private_constant :BLOCK_FRAMES, :STRETCH_FRAMES

      class << self
        # @yield [Integer, Integer] first frame and how many => Numo::SFloat [channels, frames], full scale 1; what is over
        #   full scale is clipped
        # @return [Array<Integer>] samples of each channel that were clipped
        # @raise [SystemCallError]
        def write(path, frames:, **about, &render) = write_all([new(path, frames: frames, **about)], frames: frames, &render)

        # Several files of one length from one rendering: all of them, or none.
        #
        # @param writers [Array<WavWriter>] each takes as many channels of it as it has
        # @param processes [Integer] with more than one the rendering is asked for in processes of their own, each for stretches
        #   anywhere: it has to answer the same wherever it is asked, and opens its own files
        # @param beat [#call, nil] called now and then; what it raises breaks it off
        # @return [Array<Integer>] samples of each channel that were clipped
        # @raise [SystemCallError]
        def write_all(writers, frames:, processes: 1, beat: nil, &render)
          writers.each(&:begin)
          overs = Runtime::SideBySide.map((0...frames).step(STRETCH_FRAMES).to_a, processes: processes, beat: beat) do |from|
            stretch(writers, from, [STRETCH_FRAMES, frames - from].min, (beat if processes < 2), &render)
          end
          writers.each(&:finish)
          writers.each(&:take_name)
          overs.empty? ? [0] * writers.sum(&:channels) : overs.transpose.map(&:sum)
        ensure
          writers.each(&:leave)
        end

        private

        # @return [Array<Integer>] clipped samples of each channel
        def stretch(writers, start, frames, beat)
          blocks = (start...start + frames).step(BLOCK_FRAMES).map do |from|
            beat&.call
            samples = yield(from, [BLOCK_FRAMES, start + frames - from].min)
            first = 0
            writers.flat_map { |writer| writer.put(samples[first...(first += writer.channels), true], from) }
          end
          # What many blocks leave behind is large and soon given up; left to itself it gathers to hundreds of megabytes.
          GC.start if frames == STRETCH_FRAMES
          blocks.transpose.map(&:sum)
        end
      end

      attr_reader :path

      # @param names [Array<String>] of the channels
      # @param frames [Integer]
      # @param markers [Array<Hash>] {frame:, label:}
      # @param time_reference_samples [Integer] TimeReference (EBU Tech 3285)
      def initialize(path, rate_hz:, names:, frames:, markers: [], time_reference_samples: 0)
        bext = Audio::Wav::Bext.new(time_reference_samples: time_reference_samples, originator: "Loomshuttle", coding_history: "A=PCM,F=#{rate_hz},W=24\r\n")
        @header = Audio::Wav::Header.new(sample_rate_hz: rate_hz, bext: bext, track_names: names, markers: markers)
        @path, @making, @frames = path, "#{path}.#{Process.pid}.making", frames
        @channels = names.size
      end

      attr_reader :channels

      def begin
        @file = File.open(@making, "wb", 0o644)
        header = @header.bytes(@frames)
        @data_offset = header.bytesize
        @file.syswrite(header)
      end

      # @param samples [Numo::SFloat] [channels, frames]
      # @param from [Integer] frame of the first
      # @return [Array<Integer>] samples of each channel that were clipped
      def put(samples, from)
        bytes = packed(samples)
        @file.pwrite(bytes, @data_offset + from * @header.frame_bytes)
        bytes.clear
        # Mostly nothing is over: one look tells.
        return [0] * channels if samples.minmax.none? { |most| most.abs > 1.0 }

        Array.new(channels) { |channel| (samples[channel, true].abs > 1.0).count_true }
      end

      # RIFF pads an odd chunk with one byte.
      def finish
        bytes = @frames * @header.frame_bytes
        @file.pwrite("\0", @data_offset + bytes) if bytes.odd?
        @file.fdatasync
      end

      def take_name = File.rename(@making, @path)

      def leave
        @file&.close
        FileUtils.rm_f(@making)
      end

      private

      # Whole 24-bit steps. Full scale is a power of two: nothing is rounded before the step is.
      #
      # @return [String] interleaved
      def packed(samples)
        full = Audio::Scale::FULL_SCALE_S24.to_f
        scaled = samples * full
        scaled.inplace.rint.clip(-full, full - 1)
        steps = Numo::Int32.cast(scaled)
        scaled.free
        Audio::Wav::Samples.steps_to_24(Audio::Wav::Samples.turned(steps))
      end
    end
  end
end

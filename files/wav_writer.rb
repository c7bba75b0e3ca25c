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
      BLOCK_FRAMES = 65_536
      private_constant :BLOCK_FRAMES

      class << self
        # @yield [Integer, Integer] first frame and how many => Numo::SFloat [channels, frames], full scale 1; what is over
        #   full scale is clipped
        # @return [Array<Integer>] samples of each channel that were clipped
        # @raise [SystemCallError]
        def write(path, frames:, **about, &render) = write_all([new(path, frames: frames, **about)], frames: frames, &render)

        # Several files of one length from one rendering: all of them, or none.
        #
        # @param writers [Array<WavWriter>] each takes as many channels of it as it has
        # @return [Array<Integer>] samples of each channel that were clipped
        # @raise [SystemCallError]
        def write_all(writers, frames:)
          writers.each(&:begin)
          (0...frames).step(BLOCK_FRAMES) do |from|
            samples = yield(from, [BLOCK_FRAMES, frames - from].min)
            first = 0
            writers.each do |writer|
              writer.add(samples[first...(first + writer.channels), true])
              first += writer.channels
            end
          end
          writers.each(&:finish)
          writers.each(&:take_name)
          writers.flat_map(&:overs)
        ensure
          writers.each(&:leave)
        end
      end

      # overs  samples of each channel that were clipped
      attr_reader :path, :overs

      # @param names [Array<String>] of the channels
      # @param frames [Integer]
      # @param markers [Array<Hash>] {frame:, label:}
      # @param time_reference_samples [Integer] TimeReference (EBU Tech 3285)
      def initialize(path, rate_hz:, names:, frames:, markers: [], time_reference_samples: 0)
        bext = Audio::Wav::Bext.new(time_reference_samples: time_reference_samples, originator: "Loomshuttle", coding_history: "A=PCM,F=#{rate_hz},W=24\r\n")
        @header = Audio::Wav::Header.new(sample_rate_hz: rate_hz, bext: bext, track_names: names, markers: markers)
        @path, @making, @frames = path, "#{path}.#{Process.pid}.making", frames
        @overs = Array.new(names.size, 0)
      end

      def channels = @overs.size

      def begin
        @file = File.open(@making, "wb", 0o644)
        @file.write(@header.bytes(@frames))
      end

      # @param samples [Numo::SFloat] [channels, frames]
      def add(samples)
        # Mostly nothing is over: one look tells.
        channels.times { |channel| @overs[channel] += (samples[channel, true].abs > 1.0).count_true } if samples.minmax.any? { |most| most.abs > 1.0 }
        @file.write(packed(samples))
      end

      # RIFF pads an odd chunk with one byte.
      def finish
        @file.write("\0") if (@frames * @header.frame_bytes).odd?
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
        full = Audio::Scale::FULL_SCALE_S24
        steps = Numo::Int32.cast((samples * full).inplace.rint.clip(-full, full - 1)).transpose
        Audio::Wav::Samples.to_24(steps << 8)
      end
    end
  end
end

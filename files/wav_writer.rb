# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Files
    # Writes a whole Broadcast Wave file of 24 bit from what somebody renders block by block: it is there when all of it
    # is there, and not before; what went wrong leaves nothing behind.
    #
    #   WavWriter.write("click.wav", rate_hz: 48_000, names: ["click"], frames: 96_000) { |from, count| Numo::SFloat.zeros(1, count) }
    module WavWriter
      BLOCK_FRAMES = 65_536
      private_constant :BLOCK_FRAMES

      module_function

      # @param names [Array<String>] of the channels
      # @param frames [Integer]
      # @param markers [Array<Hash>] {frame:, label:}
      # @param time_reference_samples [Integer] TimeReference (EBU Tech 3285)
      # @yield [Integer, Integer] first frame and how many => Numo::SFloat [channels, frames], full scale 1; what is over
      #   full scale is clipped
      # @return [Array<Integer>] samples of each channel that were clipped
      # @raise [SystemCallError]
      def write(path, rate_hz:, names:, frames:, markers: [], time_reference_samples: 0)
        bext = Audio::Wav::Bext.new(time_reference_samples: time_reference_samples, originator: "Loomshuttle", coding_history: "A=PCM,F=#{rate_hz},W=24\r\n")
        header = Audio::Wav::Header.new(sample_rate_hz: rate_hz, bext: bext, track_names: names, markers: markers)
        overs = Array.new(names.size, 0)
        beside(path) do |file|
          file.write(header.bytes(frames))
          (0...frames).step(BLOCK_FRAMES) do |from|
            samples = yield(from, [BLOCK_FRAMES, frames - from].min)
            samples.shape[0].times { |channel| overs[channel] += (samples[channel, true].abs > 1.0).count_true }
            file.write(packed(samples))
          end
          file.write("\0") if (frames * header.frame_bytes).odd?
        end
        overs
      end

      # Whole 24-bit steps, three bytes of the four of an integer.
      #
      # @param samples [Numo::SFloat] [channels, frames]
      # @return [String] interleaved
      def packed(samples)
        full = Audio::Scale::FULL_SCALE_S24
        steps = Numo::Int32.cast((Numo::DFloat.cast(samples) * full).rint.clip(-full, full - 1)).transpose
        bytes = Numo::UInt8.from_binary(steps.to_binary, [steps.size, 4])
        bytes[true, 0..2].to_binary
      end

      # @yield [File] that takes its name when it is whole
      def beside(path)
        making = "#{path}.#{Process.pid}.making"
        File.open(making, "wb", 0o644) do |file|
          yield file
          file.fdatasync
        end
        File.rename(making, path)
      ensure
        FileUtils.rm_f(making)
      end
      private_class_method :packed, :beside
    end
  end
end

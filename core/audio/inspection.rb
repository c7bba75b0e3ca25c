# frozen_string_literal: true

module Loomshuttle
  module Audio
    # Everything that can be said of one file without opening it in a player.
    module Inspection
      module_function

      # @param io [IO] seekable, binary
      # @param name [String] shown as `file`
      # @return [Hash] plain data, levels one a channel
      # @raise [Wav::Malformed]
      def of(io, name)
        reader = Wav::Reader.new(io)
        format = reader.format
        {file: name, container: container(reader), encoding: format.encoding, sample_rate_hz: format.sample_rate_hz,
         bits: format.bits, channels: format.channels, frames: reader.frames, bext: reader.bext&.to_h,
         track_names: reader.track_names, markers: reader.markers, levels: levels(reader), warnings: reader.warnings}
      end

      def container(reader)
        return reader.chunks.container if reader.chunks.container != "RIFF"

        reader.bext ? "BWF" : "WAV"
      end

      def levels(reader)
        tally = LevelTally.new(channels: reader.format.channels, bits: reader.format.bits)
        reader.each_block { |samples| tally.add(samples) }
        tally.levels
      end
      private_class_method :container, :levels
    end
  end
end

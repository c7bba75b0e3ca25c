# frozen_string_literal: true

module Loomshuttle
  module Engine
    # One channel of a WAV file, as a player plays it into one lane.
    class FileSource
      attr_reader :lane, :frames, :rate_hz

      # @raise [BadInput] when the file cannot be read
      def initialize(path, channel:, lane:)
        @io = File.open(path, "rb")
        @reader = Audio::Wav::Reader.new(@io)
        @channel = channel - 1
        @lane = lane - 1
        @frames = @reader.frames
        @rate_hz = @reader.format.sample_rate_hz
        unless channel.between?(1, @reader.format.channels)
          raise BadInput.new(field: "channel", value: channel, allowed: "1 to #{@reader.format.channels}")
        end
      end

      # @return [Numo::Int32] [frames], up to `count`; none behind the end
      def render(from, count)
        return NOTHING if from >= @frames

        @reader.read_s32(from, count)[true, @channel]
      end

      NOTHING = Numo::Int32.zeros(0)
      private_constant :NOTHING
      def close = @io.close
    end
  end
end

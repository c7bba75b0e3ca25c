# frozen_string_literal: true

module Loomshuttle
  module Engine
    # One wire block to what is kept: planar 24 bit without a float on the way, and each lane's
    # extremes. Made once a device; keeps its arrays.
    class Unpack
      FULL_SCALE = Audio::Scale::FULL_SCALE_S32.to_f
      private_constant :FULL_SCALE

      # @return [Numo::Int32] [lanes], full scale 2^31
      attr_reader :low, :high
      # @return [Numo::SFloat] [lanes], mean square, full scale 1
      attr_reader :square

      # @param format [Device::Format]
      def initialize(format)
        frames, lanes = format.block_frames, format.lanes_in
        @samples = Numo::Int32.zeros(frames, lanes)
        @bytes = Numo::UInt8.zeros(frames, lanes, 4)
        @scaled = Numo::SFloat.zeros(frames, lanes)
        @planar = Numo::UInt8.zeros(lanes, frames, 3)
        # The upper three of four bytes are the 24-bit sample; plane by plane is four times as
        # fast as one store of three.
        @planes = (0..2).map { |plane| [@planar[true, true, plane], @bytes[true, true, plane + 1].transpose] }
        @scale = FULL_SCALE * FULL_SCALE * frames
      end

      # @param block [String] interleaved 32 bit
      # @return [String] planar 24 bit, lane after lane
      def planar(block)
        @bytes.store_binary(block)
        @planes.each { |into, from| into.store(from) }
        @planar.to_binary
      end

      # Along the frames as they lie: turning them over first costs more than it saves.
      #
      # @param block [String] interleaved 32 bit
      # @return [String] low, high and square of each lane, as CaptureRing keeps them
      def levels(block)
        @samples.store_binary(block)
        @low, @high = @samples.minmax(0)
        @scaled.store(@samples)
        @square = @scaled.mulsum(@scaled, axis: 0) / @scale
        @low.to_binary << @high.to_binary << @square.to_binary
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Engine
    # One wire block to what is kept: planar 24 bit without a float on the way, and each lane's
    # extremes. Made once a device; keeps its arrays.
    class Unpack
      # @return [Numo::Int32] [lanes], full scale 2^31
      attr_reader :low, :high

      # @param format [Device::Format]
      def initialize(format)
        frames, lanes = format.block_frames, format.lanes_in
        @samples = Numo::Int32.zeros(frames, lanes)
        @bytes = Numo::UInt8.zeros(frames, lanes, 4)
        @planar = Numo::UInt8.zeros(lanes, frames, 3)
        # The upper three of four bytes are the 24-bit sample; plane by plane is four times as
        # fast as one store of three.
        @planes = (0..2).map { |plane| [@planar[true, true, plane], @bytes[true, true, plane + 1].transpose] }
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
      # @return [String] low of each lane and high of each, as CaptureRing keeps them
      def levels(block)
        @samples.store_binary(block)
        @low, @high = @samples.minmax(0)
        @low.to_binary << @high.to_binary
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Ear
    # The return ping's sound: one maximum-length sequence, which every lane plays at once, each shifted by so many
    # frames that what comes back tells the lanes apart. It is played round and round.
    #
    #   Sequence.samples                       # => Numo::SFloat [65535] of -1 and 1
    #   Sequence.of_lane(3, order: :forward)   # => the same, shifted for lane 3
    #
    # Generator x^16 + x^14 + x^13 + x^11 + 1. Its circular correlation with itself is 65,535 at no shift and
    # -1 at every other (Golomb, Shift Register Sequences, 1967; the values are from memory, the spec counts them).
    module Sequence
      LENGTH = 2**16 - 1
      LANES = 64
      # From lane to lane.
      SHIFT = LENGTH / LANES
      # A second playing has the lanes in the other order: of both together lane and latency are known, however late it is.
      ORDERS = %i[forward backward].freeze

      module_function

      # @return [Numo::SFloat] [LENGTH]
      def samples
        @samples ||= begin
          register = 1
          Numo::SFloat.cast(Array.new(LENGTH) do
            bit = (register ^ (register >> 2) ^ (register >> 3) ^ (register >> 5)) & 1
            register = (register >> 1) | (bit << 15)
            (bit == 1) ? 1.0 : -1.0
          end)
        end
      end

      # @param lane [Integer] 1 to LANES
      # @param order [Symbol] of ORDERS
      # @return [Integer] frames by which that lane's sequence is late
      def shift(lane, order) = ((order == :forward) ? lane - 1 : LANES - lane) * SHIFT

      # @return [Numo::SFloat] [LENGTH], one turn
      def of_lane(lane, order:)
        late = shift(lane, order)
        late.zero? ? samples : Numo::SFloat.hstack([samples[-late..], samples[0...-late]])
      end
    end
  end
end

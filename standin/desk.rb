# frozen_string_literal: true

require "numo/linalg"

module Loomshuttle
  module Standin
    # Turns one block of musicians and card returns into one block of card sends, through
    # preamps, channels, faders and mixes, all on real samples.
    class Desk
      attr_reader :peaks

      # @param band [Band]
      # @param frames [Integer] a block
      def initialize(band, frames:)
        @band = band
        @frames = frames
        @peaks = nil
      end

      # The block loop takes a new state over between two blocks; other threads may set it
      # at any time, with its own table, in one step.
      def routing=(routing)
        @next = [routing, Numo::SFloat.zeros(routing.size, @frames)]
      end

      # @param frame [Integer] the band's clock
      # @param returns [Numo::Int32] [frames, lanes] from the computer, full scale 2^31
      # @return [Numo::Int32] [frames, lanes] to the computer
      def process(frame, returns)
        routing, @table = @next
        fill_inputs(routing, frame, returns)
        fill_channels(routing)
        card = @table[routing.card_rows, true]
        measure(routing)
        Numo::Int32.cast((card * FULL_SCALE).rint.clip(-FULL_SCALE, Audio::Scale::MAX_FLOAT_S32)).transpose.dup
      end

      FULL_SCALE = Audio::Scale::FULL_SCALE_S32.to_f
      # Converters have 24 bits.
      STEPS = 2.0**23
      private_constant :FULL_SCALE, :STEPS

      private

      def fill_inputs(routing, frame, returns)
        if routing.musicians.any?
          played = @band.block(frame, @frames)[routing.musicians, true] * routing.musician_gain
          @table[routing.musicians_at...routing.returns_at, true] = (played * STEPS).rint.clip(-STEPS, STEPS - 1) / STEPS
        end
        @table[routing.returns_at...routing.channels_at, true] = Numo::SFloat.cast(returns.transpose) / FULL_SCALE
      end

      def fill_channels(routing)
        channels = @table[routing.channel_rows, true]
        faded = channels * routing.fader_gain
        @table[routing.channels_at...routing.faders_at, true] = channels
        @table[routing.faders_at...routing.mixes_at, true] = faded
        mixes = routing.pre_levels.dot(channels) + routing.post_levels.dot(faded)
        @table[routing.mixes_at..-1, true] = routing.mix_ways ? routing.mix_ways.dot(mixes) : mixes
      end

      # Highest magnitude of the block: channels, mixes, listeners.
      def measure(routing)
        low, high = @table.minmax(1)
        magnitude = Numo::SFloat.maximum(high, -low)
        shown = [*(routing.channels_at...routing.faders_at), *(routing.mixes_at...routing.size), *routing.heard_rows]
        @peaks = magnitude[shown]
      end
    end
  end
end

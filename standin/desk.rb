# frozen_string_literal: true

require "numo/linalg"

module Loomshuttle
  module Standin
    # Turns one block of musicians and card returns into one block of card sends, through
    # preamps, channels, faders and mixes, all on real samples.
    class Desk
      # @param band [Band]
      # @param frames [Integer] a block
      def initialize(band, frames:)
        @band = band
        @frames = frames
      end

      # The block loop takes a new state over between two blocks; other threads may set it
      # at any time, with its own arrays, in one step.
      def routing=(routing)
        @next = Arrays.new(routing, @frames)
      end

      # @param frame [Integer] the band's clock
      # @param returns [Numo::Int32, nil] [frames, lanes] from the computer, full scale 2^31; nil is silence
      # @return [Numo::Int32] [frames, lanes] to the computer, good until the next block
      def process(frame, returns)
        @now = @next
        fill_inputs(@now.routing, frame, returns)
        fill_channels(@now.routing)
        give
      end

      # @return [Numo::SFloat] highest magnitude of the last block: channels, mixes, listeners
      def peaks
        low, high = @now.table[@now.routing.shown_rows, true].minmax(1)
        Numo::SFloat.maximum(high, -low)
      end

      # @return [Numo::SFloat] [places, frames] of the last block as listeners hear it, by Rig::Layout#listening
      def heard = @now.table[@now.routing.heard_rows, true]

      FULL_SCALE = Audio::Scale::FULL_SCALE_S32.to_f
      # Converters have 24 bits.
      STEPS = 2.0**23
      private_constant :FULL_SCALE, :STEPS

      # What one block after the other is worked out in: the signal table with views of its parts,
      # and room for channels and card. Kept, for a megabyte of new arrays a block would only be
      # seen as garbage when it is hundreds of them.
      class Arrays
        attr_reader :routing, :table, :musicians, :returns, :channels, :faded, :mixes, :strip, :card, :out

        def initialize(routing, frames)
          @routing = routing
          @table = Numo::SFloat.zeros(routing.size, frames)
          bounds = [routing.musicians_at, routing.returns_at, routing.channels_at, routing.faders_at, routing.mixes_at, routing.size]
          @musicians, @returns, @channels, @faded, @mixes = bounds.each_cons(2).map { |from, to| (to > from) ? @table[from...to, true] : nil }
          @strip = Numo::SFloat.zeros(routing.channel_rows.size, frames)
          @card = Numo::SFloat.zeros(routing.card_rows.size, frames)
          @out = Numo::Int32.zeros(frames, routing.card_rows.size)
        end
      end
      private_constant :Arrays

      private

      def fill_inputs(routing, frame, returns)
        @now.musicians&.store(through_preamps(routing, played(routing, frame)))
        returns ? @now.returns.store(Numo::SFloat.cast(returns.transpose) / FULL_SCALE) : @now.returns.store(0)
      end

      def played(routing, frame)
        routing.stage ? routing.stage.block(@band, frame, @frames) : @band.block(frame, @frames)[routing.musicians, true]
      end

      # Music is made of whole steps already.
      def through_preamps(routing, played)
        return played unless routing.musician_gain

        (played * routing.musician_gain * STEPS).rint.clip(-STEPS, STEPS - 1) / STEPS
      end

      def fill_channels(routing)
        strip = @now.strip
        strip.store(@now.table[routing.channel_rows, true])
        @now.channels.store(strip)
        mixes = routing.pre_levels.dot(strip)
        faded = strip.inplace * routing.fader_gain
        @now.faded.store(faded)
        mixes += routing.post_levels.dot(faded) if routing.post_levels
        @now.mixes&.store(routing.mix_ways ? routing.mix_ways.dot(mixes) : mixes)
      end

      # Samples of 24 bits are whole numbers here; what a mix has below them is cut off.
      def give
        @now.card.store(@now.table[@now.routing.card_rows, true])
        (@now.card.inplace * FULL_SCALE).clip(-FULL_SCALE, Audio::Scale::MAX_FLOAT_S32)
        @now.out.store(@now.card.transpose)
        @now.out
      end
    end
  end
end

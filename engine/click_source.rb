# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The click of a song, for as long as the song lasts.
    class ClickSource
      attr_reader :lane, :frames, :rate_hz

      def initialize(click, lane:, frames:, rate_hz:)
        @click = click
        @lane = lane - 1
        @frames = frames
        @rate_hz = rate_hz
      end

      def render(from, count) = @click.render(from, [count, @frames - from].min.clamp(0, count))
      def close = nil
    end
  end
end

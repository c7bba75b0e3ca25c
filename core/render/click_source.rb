# frozen_string_literal: true

module Loomshuttle
  module Render
    # The click of a song, for as long as the song lasts.
    class ClickSource
      attr_reader :frames

      # @param click [Music::Click]
      def initialize(click, frames:)
        @click = click
        @frames = frames
      end

      def channels = 1

      # @return [Numo::SFloat] [1, count]
      def read(from, count) = @click.render(from, count).reshape(1, count)

      def close = nil
    end
  end
end

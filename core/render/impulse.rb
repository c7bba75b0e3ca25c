# frozen_string_literal: true

module Loomshuttle
  module Render
    # One sample at half of full scale, then silence: what a round trip is measured with.
    class Impulse
      HEIGHT = 0.5
      attr_reader :frames

      def initialize(frames:) = @frames = frames
      def channels = 1

      def read(from, count)
        Numo::SFloat.zeros(1, count).tap { |samples| samples[0, 0] = HEIGHT if from.zero? && count > 0 }
      end

      def close = nil
    end
  end
end

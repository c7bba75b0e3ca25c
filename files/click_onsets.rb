# frozen_string_literal: true

module Loomshuttle
  module Files
    # Where the clicks of a click stem begin.
    #
    #   ClickOnsets.of(source)   # => [0, 24_000, 48_000]
    module ClickOnsets
      BLOCK_FRAMES = 65_536
      # Over so much of the stem's peak something sounds; what has been still for so long has ended. Divisions of a fast
      # beat are further apart.
      SOUNDS = 0.1
      STILL_S = 0.03
      private_constant :BLOCK_FRAMES, :SOUNDS, :STILL_S

      module_function

      # @param source [#frames, #rate_hz, #read] as the renderer has them
      # @return [Array<Integer>] frames
      def of(source)
        peak = pieces(source).map { |_, samples| samples.max }.max.to_f
        return [] unless peak.positive?

        still = (STILL_S * source.rate_hz).round
        last = -still - 1
        pieces(source).each_with_object([]) do |(from, samples), onsets|
          (samples > peak * SOUNDS).where.to_a.each do |at|
            onsets << from + at if from + at - last > still
            last = from + at
          end
        end
      end

      # @return [Enumerator] first frame and Numo::SFloat [frames], the louder side of each
      def pieces(source)
        Enumerator.new do |all|
          (0...source.frames).step(BLOCK_FRAMES) { |from| all << [from, source.read(from, [BLOCK_FRAMES, source.frames - from].min).abs.max(0)] }
        end
      end
      private_class_method :pieces
    end
  end
end

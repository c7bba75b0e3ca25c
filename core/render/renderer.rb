# frozen_string_literal: true

module Loomshuttle
  module Render
    # Renders a program, block by block, to as many lanes as there are. Pure: the same program
    # and frame give the same samples, live, in a bounce and in a spec.
    #
    #   Renderer.new(lanes: 32).block(program, 0, 1024)   # => Numo::SFloat [32, 1024], full scale 1
    #
    # A voice whose source fails is named in `failed`, sounds no more, and the others play on.
    class Renderer
      # lanes   how many there are
      # failed  voice's key to what its source said
      attr_reader :lanes, :failed

      def initialize(lanes:)
        @lanes = lanes
        @failed = {}
      end

      # @param program [Program]
      # @param from [Integer] position in frames
      # @return [Numo::SFloat] [lanes, count]; silence behind the end
      def block(program, from, count)
        out = Numo::SFloat.zeros(@lanes, count)
        program.pieces(from, count).each { |at, length, offset| lay_all(out, program, at, length, offset) }
        program.seams(from, count).each { |seam| sew(out, program, *seam) }
        out
      end

      # The way from one block of sound to the next without a click: a straight line.
      #
      # @param before, after [Numo::SFloat] [lanes, count]
      # @param done, length [Integer] frames of the way that lie behind, and its whole length
      def self.blend(before, after, done, length)
        share = ((Numo::SFloat.new(after.shape[1]).seq(done) + 1) / length).clip(0.0, 1.0)
        before + (after - before) * share
      end

      private

      def lay_all(out, program, at, length, offset) = program.voices.each { |voice| lay(out, voice, at, length, offset) unless @failed.key?(voice.key) }

      # What would have come behind a loop's end fades into what comes.
      def sew(out, program, at, length, offset, done, whole)
        before = Numo::SFloat.zeros(@lanes, length)
        lay_all(before, program, at, length, 0)
        into = offset...(offset + length)
        out[true, into] = self.class.blend(before, out[true, into], done, whole)
      end

      def lay(out, voice, at, length, offset)
        first = [at - voice.at_frames, 0].max
        start = offset + [voice.at_frames - at, 0].max
        count = [voice.source.frames - first, offset + length - start].min
        return if count <= 0

        mix(out, voice, voice.source.read(first, count), start)
      rescue BadInput, SystemCallError, IOError, ArgumentError => e
        @failed[voice.key] = e.message
      end

      def mix(out, voice, samples, start)
        into = start...(start + samples.shape[1])
        samples.shape[0].times do |channel|
          lane = voice.lanes[voice.fold? ? 0 : channel]
          next unless lane&.between?(1, @lanes)

          part = samples[channel, true]
          out[lane - 1, into].inplace + (voice.unity? ? part : part * voice.ratio)
        end
      end
    end
  end
end

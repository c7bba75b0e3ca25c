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
        program.tails(from, count).each { |tail| ring_on(out, program, *tail) }
        # What is announced does not come while a loop goes round.
        program.voices.each { |voice| lay(out, voice, from, count, 0) if voice.played && !@failed.key?(voice.key) } unless program.endless?
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

      def lay_all(out, program, at, length, offset) = program.voices.each { |voice| lay(out, voice, at, length, offset) unless voice.played || @failed.key?(voice.key) }

      # What would have come behind a loop's end fades into what comes.
      def sew(out, program, at, length, offset, done, whole)
        before = Numo::SFloat.zeros(@lanes, length)
        lay_all(before, program, at, length, 0)
        into = offset...(offset + length)
        out[true, into] = self.class.blend(before, out[true, into], done, whole)
      end

      # What would have come behind a part fades out on top of what comes: by as much as the seam has not taken it already.
      def ring_on(out, program, at, length, offset, done, whole, seam)
        before = Numo::SFloat.zeros(@lanes, length)
        program.voices.each { |voice| lay(before, voice, at, length, 0) unless voice.played || voice.dry || @failed.key?(voice.key) }
        place = Numo::SFloat.new(length).seq(done + 1)
        sewn = seam.zero? ? 0.0 : (1.0 - place / seam).clip(0.0, 1.0)
        out[true, offset...(offset + length)].inplace + before * ((1.0 - place / whole).clip(0.0, 1.0) - sewn).clip(0.0, 1.0)
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
        voice.ways.each do |lanes, ratio|
          sound = (ratio == 1) ? samples : samples * ratio
          pairs(lanes, samples.shape[0]).each { |lane, channel| out[lane - 1, into].inplace + sound[channel, true] if lane.between?(1, @lanes) }
        end
      end

      # Which channel goes to which lane: all to a single one, a single one to all.
      def pairs(lanes, channels)
        return (0...channels).map { |channel| [lanes.first, channel] } if lanes.size == 1

        lanes.each_with_index.map { |lane, at| [lane, (channels == 1) ? 0 : at] }
      end
    end
  end
end

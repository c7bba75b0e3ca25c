# frozen_string_literal: true

module Loomshuttle
  module Files
    # A WAV file, or some of its channels, as the renderer reads it. It is read in pieces of
    # many blocks, ahead of what is asked for: a disk that answers late is not heard.
    class WavSource
      # About a third of a second: what a disk likes, and what memory does not feel.
      PIECE_FRAMES = 16_384
      # Pieces that are kept: the one that sounds, the next, and where a loop begins.
      KEPT = 4
      # The system is told to fetch so much more meanwhile: a disk that stands still for a few seconds has read it before.
      FETCHED_S = 6
      private_constant :PIECE_FRAMES, :KEPT, :FETCHED_S

      attr_reader :frames, :channels, :rate_hz

      # @param channels [Array<Integer>, nil] from 1; nil takes all
      # @raise [BadInput] when the file cannot be read
      def initialize(path, channels: nil)
        @io = File.open(path, "rb")
        @reader = Audio::Wav::Reader.new(@io)
        @frames = @reader.frames
        @rate_hz = @reader.format.sample_rate_hz
        @wanted = (channels || (1..@reader.format.channels)).map { |channel| check(channel) - 1 }
        @channels = @wanted.size
        @kept = {}
        @lock = Mutex.new
      rescue BadInput
        @io&.close
        raise
      end

      # @return [Numo::SFloat] [channels, count], not to be written to
      # @raise [SystemCallError, IOError] when the file went away
      def read(from, count)
        number, into = from.divmod(PIECE_FRAMES)
        whole = piece(number)
        return whole[true, into...(into + count)] if into + count <= whole.shape[1]

        out = Numo::SFloat.zeros(@channels, count)
        at = from
        while at < from + count
          number, into = at.divmod(PIECE_FRAMES)
          piece = piece(number)
          length = [piece.shape[1] - into, from + count - at].min
          break if length <= 0

          out[true, (at - from)...(at - from + length)] = piece[true, into...(into + length)]
          at += length
        end
        out
      end

      def close
        @lock.synchronize { @io.close unless @io.closed? }
      end

      private

      def check(channel)
        return channel if channel.between?(1, @reader.format.channels)

        raise BadInput.new(field: "channel", value: channel, allowed: "1 to #{@reader.format.channels}")
      end

      def piece(number)
        @lock.synchronize do
          @kept[number] || decode(number).tap do |samples|
            @kept.delete(@kept.first.first) if @kept.size >= KEPT
            @kept[number] = samples
          end
        end
      end

      def decode(number)
        wanted = [PIECE_FRAMES, @frames - number * PIECE_FRAMES].min
        return Numo::SFloat.zeros(@channels, 0) if wanted <= 0

        samples = @reader.read_float(number * PIECE_FRAMES, wanted)
        @reader.fetch((number + 1) * PIECE_FRAMES, FETCHED_S * @rate_hz)
        # Silence in place of what somebody cut off meanwhile would be believed.
        raise IOError, "the file has become shorter: #{wanted - samples.shape[0]} frames are missing at #{number * PIECE_FRAMES + samples.shape[0]}" if samples.shape[0] < wanted

        turned = Audio::Wav::Samples.turned(samples)
        # One channel, or one frame, is turned over where it lies.
        samples.free if samples.shape.min > 1
        (@wanted == [*0...@reader.format.channels]) ? turned : turned[@wanted, true].dup
      end
    end
  end
end

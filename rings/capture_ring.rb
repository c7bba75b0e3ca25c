# frozen_string_literal: true

module Loomshuttle
  module Rings
    # The last seconds of every lane: a preallocated file on a memory file system with one
    # writer (the engine's block loop) and any number of readers, each with its own position.
    # What a recorder, a pre-roll, an overview and an ear read is this.
    #
    #   ring = CaptureRing.create(path, lanes: 32, block_frames: 1024, rate_hz: 48_000, seconds: 40)
    #   ring.write(frame, session, levels, planar)
    #   reader = ring.reader(from_frame)
    #   reader.read   # => Block, or nil when nothing new is there
    #
    # A block is planar 24 bit, with its device frame in front and each lane's extremes, which
    # are worked out once for all who want them.
    class CaptureRing
      # frame    device frame of the first sample; it jumps where frames were lost
      # session  which opening of the device it comes from
      # slot     the whole slot as it lies in the ring
      Block = Struct.new(:seq, :frame, :session, :frames, :lanes, :slot) do
        # @param lane [Integer] from 0
        # @return [String] 24-bit samples of one lane, all or some of them
        def lane(lane, from: 0, count: frames) = slot.byteslice(samples_at + (lane * frames + from) * 3, count * 3)
        def end_frame = frame + frames

        # @return [Numo::Int32] [2, lanes], lowest and highest sample of each, full scale 2^31
        def extremes = Numo::Int32.from_binary(slot.byteslice(HEAD_BYTES, lanes * LEVEL_BYTES), [2, lanes])

        # @return [Numo::SFloat] [lanes], mean square, full scale 1
        def square = @square ||= mean_square

        # Gives its memory back now; at 25 MB a second the collector would run for that alone.
        def drop = slot.clear

        private

        def samples_at = HEAD_BYTES + lanes * LEVEL_BYTES

        def mean_square
          samples = Numo::SFloat.cast(Audio::Wav::Samples.from_24(slot.byteslice(samples_at..))).reshape!(lanes, frames)
          samples.mulsum(samples, axis: 1) / (Audio::Scale::FULL_SCALE_S32.to_f**2 * frames)
        end
      end

      PAGE_BYTES = 4096
      HEAD_BYTES = 24
      # The extremes of one lane.
      LEVEL_BYTES = 8
      NEWEST_AT = 2048
      NONE = -1
      private_constant :PAGE_BYTES, :HEAD_BYTES, :LEVEL_BYTES, :NEWEST_AT, :NONE

      # @param seconds [Numeric] that it holds
      # @return [CaptureRing] made and preallocated, so that no block waits for memory later
      # @raise [SystemCallError] when there is no room
      def self.create(path, lanes:, block_frames:, rate_hz:, seconds:)
        format = {lanes: lanes, block_frames: block_frames, rate_hz: rate_hz, slots: (seconds * rate_hz / block_frames.to_f).ceil + 1}
        file = File.open(path, File::RDWR | File::CREAT | File::TRUNC | File::BINARY, 0o600)
        ring = new(file, format)
        ring.send(:preallocate)
        ring
      end

      # @return [Integer] bytes of a ring of that size, to be asked before it is made
      def self.bytes(lanes:, block_frames:, rate_hz:, seconds:)
        PAGE_BYTES + (seconds * rate_hz / block_frames.to_f).ceil * slot_bytes(lanes, block_frames)
      end

      def self.slot_bytes(lanes, block_frames) = HEAD_BYTES + lanes * (LEVEL_BYTES + block_frames * 3)

      # For another process: one that the engine has made.
      def self.open(path)
        file = File.open(path, "rb")
        new(file, JSON.parse(file.pread(NEWEST_AT, 0).unpack1("Z*"), symbolize_names: true))
      end

      attr_reader :lanes, :block_frames, :rate_hz, :slots

      def initialize(file, format)
        @file = file
        @lanes, @block_frames, @rate_hz, @slots = format.values_at(:lanes, :block_frames, :rate_hz, :slots)
        @slot_bytes = self.class.slot_bytes(@lanes, @block_frames)
        @newest = nil
        @slot = String.new(capacity: @slot_bytes)
      end

      # What is being written over is no block until its head says so again.
      UNFINISHED = [NONE, 0, 0].pack("q<l<x4q<").freeze
      private_constant :UNFINISHED

      # From the block loop; never waits. Few calls: each lets other threads in between.
      #
      # @param levels [String] low of each lane and high of each, as Int32
      # @param planar [String] 24 bit
      def write(frame, session, levels, planar)
        seq = (@newest || NONE) + 1
        at = offset(seq)
        @file.pwrite(@slot.replace(UNFINISHED) << levels << planar, at)
        @file.pwrite([seq, session, frame].pack("q<l<x4q<"), at)
        @file.pwrite([seq].pack("q<"), NEWEST_AT)
        @newest = seq
      end

      # @return [Integer] number of the newest block, -1 before the first
      def newest = @newest || @file.pread(8, NEWEST_AT).unpack1("q<")

      # @return [Integer] number of the oldest block that is there for sure
      def oldest = [newest - @slots + 2, 0].max

      # @param from_frame [Integer, nil] the block that holds it, or the oldest behind it; nil
      #   begins with what comes next
      def reader(from_frame = nil) = Reader.new(self, from_frame ? seq_at(from_frame) : newest + 1)

      # @return [Array, nil] frame and session of a block, nil when it is gone or not there yet
      def head(seq)
        kept, session, frame = @file.pread(HEAD_BYTES, offset(seq)).unpack("q<l<x4q<")
        [frame, session] if kept == seq
      end

      # @return [Block, nil]
      def block(seq)
        bytes = @file.pread(@slot_bytes, offset(seq))
        kept, session, frame = bytes.unpack("q<l<x4q<")
        return nil unless kept == seq && head(seq)

        Block.new(seq, frame, session, @block_frames, @lanes, bytes)
      end

      def close = @file.close

      private

      def offset(seq) = PAGE_BYTES + seq % @slots * @slot_bytes

      # Every page is touched now: one that is made later would be made in the block loop.
      def preallocate
        empty = "\0" * @slot_bytes
        empty[0, 8] = [NONE].pack("q<")
        @slots.times { |slot| @file.pwrite(empty, PAGE_BYTES + slot * @slot_bytes) }
        @file.pwrite(JSON.generate(lanes: @lanes, block_frames: @block_frames, rate_hz: @rate_hz, slots: @slots).ljust(NEWEST_AT, "\0"), 0)
        @file.pwrite([NONE].pack("q<"), NEWEST_AT)
        @newest = NONE
      end

      # Frames only grow, so the block is found by halving.
      def seq_at(frame)
        low, high = oldest, newest
        return low if high < low

        found = (low..high).bsearch { |seq| (known = head(seq)) && known.first + @block_frames > frame }
        found || high + 1
      end

      # One reader's way through the ring.
      class Reader
        # @return [Integer] blocks that were written over before they were read
        attr_reader :missed_blocks, :seq

        def initialize(ring, seq)
          @ring = ring
          @seq = seq
          @missed_blocks = 0
        end

        # @return [Block, nil] the next one; nil when nothing new is there
        def read
          while @seq <= @ring.newest
            block = @ring.block(@seq)
            @seq += 1
            return block if block

            skip
          end
        end

        # @return [Integer] blocks that wait to be read
        def waiting = @ring.newest - @seq + 1

        private

        # What is gone is not read one by one: the writer would stay ahead for ever.
        def skip
          @missed_blocks += 1
          gone = @ring.oldest - @seq
          return unless gone > 0

          @missed_blocks += gone
          @seq += gone
        end
      end
    end
  end
end

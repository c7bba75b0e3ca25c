# frozen_string_literal: true

module Loomshuttle
  module Rings
    # The next seconds of what plays: written by the deck a few blocks ahead, read by the
    # engine's block loop, which asks for exactly one device frame. What is not there for that
    # frame is silence; what comes too late is never played.
    #
    # A slot holds one block as the device wants it, interleaved 32 bit, so that the engine
    # only hands it on.
    class PlayRing
      PAGE_BYTES = 4096
      HEAD_BYTES = 16
      NONE = -1
      private_constant :PAGE_BYTES, :HEAD_BYTES, :NONE

      # @param slots [Integer] blocks that can lie ready
      def self.create(path, lanes:, block_frames:, rate_hz:, slots:)
        file = File.open(path, File::RDWR | File::CREAT | File::TRUNC | File::BINARY, 0o600)
        format = {lanes: lanes, block_frames: block_frames, rate_hz: rate_hz, slots: slots}
        file.pwrite(JSON.generate(format).ljust(PAGE_BYTES, "\0"), 0)
        new(file, format).tap(&:clear)
      end

      # For the deck: the one that the engine has made.
      def self.open(path)
        file = File.open(path, "r+b")
        new(file, JSON.parse(file.pread(PAGE_BYTES, 0).unpack1("Z*"), symbolize_names: true))
      end

      attr_reader :lanes, :block_frames, :rate_hz, :slots

      def initialize(file, format)
        @file = file
        @lanes, @block_frames, @rate_hz, @slots = format.values_at(:lanes, :block_frames, :rate_hz, :slots)
        @data_bytes = @lanes * @block_frames * 4
        @slot_bytes = HEAD_BYTES + @data_bytes + 8
        @stamp = Process.clock_gettime(Process::CLOCK_MONOTONIC, :nanosecond)
        @buffer = String.new(capacity: @slot_bytes)
      end

      # @param frame [Integer] device frame that the block is for
      # @param bytes [String] interleaved little-endian 32 bit
      def write(frame, bytes)
        at = offset(frame)
        @stamp += 1
        @file.pwrite([NONE].pack("q<"), at)
        # Head and tail carry one stamp: a block that is read while it is written is none.
        @file.pwrite(bytes, at + HEAD_BYTES)
        @file.pwrite([@stamp].pack("q<"), at + HEAD_BYTES + @data_bytes)
        @file.pwrite([frame, @stamp].pack("q<q<"), at)
      end

      # @return [String, nil] the block for that frame, nil where there is none
      def read(frame)
        # Mostly nothing plays: one look at the head tells.
        return nil unless ready?(frame)

        bytes = @file.pread(@slot_bytes, offset(frame), @buffer)
        kept, stamp = bytes.unpack("q<q<")
        return nil unless kept == frame && bytes.unpack1("q<", offset: HEAD_BYTES + @data_bytes) == stamp

        bytes.byteslice(HEAD_BYTES, @data_bytes)
      end

      # Takes back what was written for that frame.
      def erase(frame) = @file.pwrite([NONE].pack("q<"), offset(frame))

      # Whether something lies ready for that frame.
      def ready?(frame) = @file.pread(8, offset(frame)).unpack1("q<") == frame

      def clear
        empty = [NONE].pack("q<") + "\0" * (@slot_bytes - 8)
        @slots.times { |slot| @file.pwrite(empty, PAGE_BYTES + slot * @slot_bytes) }
      end

      def close = @file.close

      private

      def offset(frame) = PAGE_BYTES + frame / @block_frames % @slots * @slot_bytes
    end
  end
end

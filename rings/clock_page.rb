# frozen_string_literal: true

module Loomshuttle
  module Rings
    # The one clock, for whoever is not the engine: a small file that the engine writes with
    # every block and anybody may read at any time. Everything that sounds is addressed by it.
    #
    #   page = ClockPage.open(path)
    #   page.read   # => Reading(frame: 480_256, rate_hz: 48_000, session: 1, ...)
    class ClockPage
      # frame     device frame that the next block begins with
      # session   grows each time the device was opened; 0 while none is
      # mono_s    monotonic time of the last block, seconds
      Reading = Value.of(:frame, :session, :rate_hz, :block_frames, :lanes_in, :lanes_out, :mono_s)
      LAYOUT = "q<l<l<l<l<l<x4q<q<"
      BYTES = 56
      TRIES = 20
      private_constant :LAYOUT, :BYTES, :TRIES

      def self.create(path)
        File.binwrite(path, "\0" * BYTES)
        new(File.open(path, "r+b"))
      end

      # @raise [SystemCallError] where no engine has made one yet
      def self.open(path) = new(File.open(path, "rb"))

      def initialize(file)
        @file = file
        @turn = 0
      end

      # @param mono_ns [Integer]
      def write(frame, session, format, mono_ns)
        @turn += 1
        values = [frame, session, format&.rate_hz || 0, format&.block_frames || 0, format&.lanes_in || 0, format&.lanes_out || 0, mono_ns, @turn]
        bytes = values.pack(LAYOUT)
        @file.pwrite(bytes << [check(bytes)].pack("q<"), 0)
      end

      # @return [Reading, nil] nil while it is being made, or when no device is open
      def read
        body = whole or return nil
        frame, session, rate_hz, block_frames, lanes_in, lanes_out, mono_ns = body.unpack(LAYOUT)
        return nil if session.zero? || block_frames.zero?

        Reading.new(frame: frame, session: session, rate_hz: rate_hz, block_frames: block_frames, lanes_in: lanes_in, lanes_out: lanes_out, mono_s: mono_ns / 1e9)
      rescue EOFError
        nil
      end

      def close = @file.close

      private

      # One that is read while it is written is read again: half a page says nothing of the device.
      def whole
        TRIES.times do
          bytes = @file.pread(BYTES, 0)
          body = bytes.byteslice(0, BYTES - 8)
          return body if bytes.unpack1("q<", offset: BYTES - 8) == check(body)
        end
        nil
      end

      # A page that is read while it is written is seen to be so.
      def check(body) = body.unpack("q<*").inject(:^) & 0x7FFF_FFFF_FFFF_FFFF
    end
  end
end

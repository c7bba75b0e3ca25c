# frozen_string_literal: true

require "socket"

module Loomshuttle
  module Standin
    # The card of the simulated desk: a Unix socket of mode 600 that gives one block of interleaved
    # 32-bit frames every block's time and takes one back. One computer at a time.
    #
    # On connection it sends one JSON line with its format; then blocks both ways.
    class AudioPort
      # @param path [String] of the socket; one that is left over from before is replaced
      def initialize(path:, rate_hz:, lanes:, block_frames:)
        @server = Runtime::SocketPath.listen(path)
        @format = {rate_hz: rate_hz, lanes_in: lanes, lanes_out: lanes, layout: "S32LE", block_frames: block_frames}
        @block_bytes = lanes * block_frames * 4
        @silence = ("\0" * @block_bytes).freeze
        @returns = Queue.new
        Runtime::Loop.start("card", retry_s: 0.05) { accept }
      end

      # Blocks of playback held back so that neither side's jitter is heard.
      CUSHION_BLOCKS = 4
      private_constant :CUSHION_BLOCKS

      # @param bytes [String] a block to the computer; dropped when none listens
      def give(bytes)
        @client&.write(bytes)
      rescue SystemCallError, IOError
        drop
      end

      # @return [String] the next block from the computer, silence when there is none
      def take
        @flowing = true if @returns.size >= CUSHION_BLOCKS
        @returns.pop(true) if @flowing
      rescue ThreadError
        @flowing = false
        nil
      end

      attr_reader :silence

      # Ends the line to the computer, and takes no other.
      def close
        @closing = true
        @server.close
        @client&.shutdown
      rescue SystemCallError, IOError
        nil
      end

      private

      # A computer that goes away while it is let in must not keep the next one out.
      def accept
        return Runtime::Loop::DONE if @closing

        # One that is let in while this is closed from elsewhere would be held by nobody, and would wait for ever: it is
        # let in in one step, without waiting in it.
        @server.wait_readable
        client = @server.accept_nonblock(exception: false)
        serve(client) unless client == :wait_readable
        nil
      rescue SystemCallError, IOError
        nil
      end

      def serve(client)
        client.write(JSON.generate(@format) + "\n")
        @returns.clear
        @flowing = false
        @client = client
        # It came in the moment in which the card went.
        return drop if @closing

        read_from(client)
      end

      def read_from(client)
        while (bytes = client.read(@block_bytes)) && bytes.bytesize == @block_bytes
          @returns << bytes
        end
      rescue SystemCallError, IOError
        nil
      ensure
        drop
      end

      def drop
        client = @client
        @client = nil
        client&.close
      end
    end
  end
end

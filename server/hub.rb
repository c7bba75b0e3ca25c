# frozen_string_literal: true

module Loomshuttle
  module Server
    # Sends events to all browsers (Server-Sent Events) from one thread: a callable Rack
    # body hands the socket over and frees Puma's thread. A browser that does not read is
    # dropped when its buffer is full, and connects again by itself.
    class Hub
      BUFFER_BYTES_MAX = 512 * 1024
      private_constant :BUFFER_BYTES_MAX

      def initialize
        @clients = {}
        @inbox = Thread::Queue.new
        Runtime::Loop.start("hub") { work }
      end

      # @param io [IO] a browser's socket, headers already sent
      def add(io) = @inbox << [:add, io]

      # @param event [String]
      # @param data [Object] plain data
      def publish(event, data) = @inbox << [:send, "event: #{event}\ndata: #{JSON.generate(data)}\n\n"]

      private

      def work
        kind, what = @inbox.pop
        (kind == :add) ? @clients[what] = +"retry: 1000\n\n" : @clients.each_value { |buffer| buffer << what }
        @clients.each_pair { |io, buffer| flush(io, buffer) }
        @clients.delete_if { |io, _| io.closed? }
      end

      def flush(io, buffer)
        return if buffer.empty?

        written = io.write_nonblock(buffer)
        buffer.replace(buffer.byteslice(written..))
      rescue IO::WaitWritable
        io.close if buffer.bytesize > BUFFER_BYTES_MAX
      rescue SystemCallError, IOError
        io.close unless io.closed?
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    # Sends events to all browsers (Server-Sent Events) from one thread: a callable Rack
    # body hands the socket over and frees Puma's thread. A browser that does not read is
    # dropped when its buffer is full, and connects again by itself.
    #
    #   hub.add(io, topics: ["levels"])
    #   hub.publish("show", {id: 3, version: 7})            # to everybody
    #   hub.publish("frame", frame, topic: "levels")        # to whoever asked for it
    class Hub
      BUFFER_BYTES_MAX = 512 * 1024
      # Who asks for no levels is told of the state now and then.
      PLAIN = ["status"].freeze
      Client = Struct.new(:buffer, :topics)
      private_constant :BUFFER_BYTES_MAX, :Client

      def initialize
        @clients = {}
        # What was told last of each topic: who comes next need not wait for more.
        @newest = {}
        @inbox = Thread::Queue.new
        Runtime::Loop.start("hub") { work }
      end

      # @param io [IO] a browser's socket, headers already sent
      # @param topics [Array<String>]
      def add(io, topics: PLAIN) = @inbox << [:add, io, topics]

      # @param event [String]
      # @param data [Object] plain data
      # @param topic [String, nil] only for lines that asked for it
      def publish(event, data, topic: nil) = @inbox << [:send, "event: #{event}\ndata: #{JSON.generate(data)}\n\n", topic]

      private

      def work
        kind, what, more = @inbox.pop
        if kind == :add
          @clients[what] = Client.new("retry: 1000\n\n#{@newest.values_at(*more).join}", more)
        else
          @newest[more] = what if more
          @clients.each_value { |client| client.buffer << what if more.nil? || client.topics.include?(more) }
        end
        @clients.each_pair { |io, client| flush(io, client.buffer) }
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

# frozen_string_literal: true

module Loomshuttle
  module Server
    # Sends events to all browsers (Server-Sent Events) from one thread: a callable Rack
    # body hands the socket over and frees Puma's thread. A browser that does not read is
    # dropped when its buffer is full, and connects again by itself.
    #
    #   hub.add(io, LevelsWanted.parse(rate_hz: 20, lanes: "all", desk: nil))
    #   hub.publish("show", {id: 3, version: 7})                     # to everybody
    #   hub.publish_each("frame") { |wanted| wanted.of(frame) }      # to each what it wants
    class Hub
      BUFFER_BYTES_MAX = 512 * 1024
      # A browser that was out of the network's reach finds no end of its line: what hears nothing for three times as long knows.
      HERE_S = 2
      Client = Struct.new(:buffer, :wanted, :device)
      private_constant :BUFFER_BYTES_MAX, :HERE_S, :Client

      def initialize
        @clients = {}
        # How what each wants was put together last: who comes next need not wait for more.
        @newest = {}
        @inbox = Thread::Queue.new
        Runtime::Loop.start("hub") { work }
        Runtime::Loop.start("hub's sign of life", pause_s: HERE_S) { publish("here", {}) }
      end

      # @param io [IO] a browser's socket, headers already sent
      # @param wanted [Object] what this one wants to be told; lines that want the same are equal
      # @param device [Integer, nil] the one that was let in
      def add(io, wanted = nil, device: nil) = @inbox << -> { come(io, wanted, device) }

      # Closes the lines of a device. Its browser comes again at once, as whoever it is then.
      def dismiss(device) = @inbox << -> { @clients.each { |io, client| io.close if client.device == device && !io.closed? } }

      # @param event [String]
      # @param data [Object] plain data
      def publish(event, data)
        text = text(event, data)
        @inbox << -> { @clients.each_value { |client| client.buffer << text } }
      end

      # @param event [String]
      # @yield [Object, Boolean] what some lines want, and whether they have heard nothing of it yet; on the
      #   hub's thread, once for all that want the same
      # @yieldreturn [Object, nil] plain data; nil for nothing this time
      def publish_each(event, &compose) = @inbox << -> { tell_each(event, compose) }

      private

      def work
        @inbox.pop.call
        @clients.each_pair { |io, client| flush(io, client.buffer) unless io.closed? }
        @clients.delete_if { |io, _| io.closed? }
      end

      def come(io, wanted, device)
        known = @newest.filter_map { |event, compose| compose.call(wanted, true)&.then { |data| text(event, data) } }
        # From here on it hears everything; the headers went out before, and said nothing of that.
        @clients[io] = Client.new("retry: 1000\n\n#{text("stands", {})}#{known.join}", wanted, device)
      end

      def tell_each(event, compose)
        @newest[event] = compose
        @clients.each_value.group_by(&:wanted).each do |wanted, clients|
          data = compose.call(wanted, false) or next
          text = text(event, data)
          clients.each { |client| client.buffer << text }
        end
      end

      def text(event, data) = "event: #{event}\ndata: #{JSON.generate(data)}\n\n"

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

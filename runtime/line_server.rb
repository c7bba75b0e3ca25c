# frozen_string_literal: true

require "fileutils"
require "json"
require "socket"

module Loomshuttle
  module Runtime
    # JSON lines on a Unix socket of mode 600: how engine and deck are spoken to. Each request is
    # {"do": ..., ...}; each answer {"ok": ...} or {"error": {field, value, allowed, message}}.
    # After {"do": "subscribe"} the line carries what `publish` sends.
    #
    #   LineServer.new(path, contract: Wire::Contract.engine) { |request| {"frames" => 7} }
    #
    # A line that is no JSON ends the connection: whoever speaks something else here is not one
    # of us. A request that its caller gave up ("until_s" is past) is refused, not begun.
    class LineServer
      # A line longer than this is no request of ours.
      LINE_BYTES_MAX = 4 * 1024 * 1024
      private_constant :LINE_BYTES_MAX

      # @param path [String] the socket; one that is left over from before is replaced
      # @param contract [#check] raises BadInput for a request that is not as described
      # @yield [Hash] a request, string keys; what it answers goes back
      def initialize(path, contract:, tell: nil, &act)
        @contract = contract
        @act = act
        @subscribers = []
        @lock = Mutex.new
        @server = SocketPath.listen(path)
        Loop.start("control accept", tell: tell) { accept }
      end

      def subscribers? = !@subscribers.empty?

      # Sends one line to every subscriber. One that does not read is dropped, not waited for.
      def publish(data)
        line = JSON.generate(data) + "\n"
        @lock.synchronize { @subscribers.dup }.each { |client| send_line(client, line) }
      end

      private

      def accept
        client = @server.accept
        Thread.new do
          Thread.current.priority = Loop::PRIORITY
          serve(client)
        end
      end

      def serve(client)
        while (line = client.gets("\n", LINE_BYTES_MAX))
          request = JSON.parse(line)
          subscribing = request.is_a?(Hash) && request["do"] == "subscribe"
          client.write(JSON.generate(subscribing ? {ok: true} : answer(request)) + "\n")
          @lock.synchronize { @subscribers << client } if subscribing
        end
      rescue JSON::ParserError, SystemCallError, IOError
        nil
      ensure
        forget(client)
      end

      def answer(request)
        @contract.check(request)
        refuse_late(request)
        {ok: @act.call(request)}
      rescue BadInput => e
        {error: e.to_h}
      rescue => e
        # Whoever asked is told; the line and the process go on.
        warn "control: #{request["do"]}: #{e.full_message(highlight: false)}"
        {error: {field: request["do"].to_s, value: nil, allowed: "a request that does not fail", message: "#{e.class}: #{e.message}"[0, 300]}}
      end

      def refuse_late(request)
        return unless request["until_s"] && Process.clock_gettime(Process::CLOCK_MONOTONIC) > request["until_s"]

        raise BadInput.new(field: "until_s", value: request["until_s"], allowed: "a request whose caller still waits; this one gave up before it was begun")
      end

      def send_line(client, line)
        written = client.write_nonblock(line)
        forget(client) if written < line.bytesize
      rescue SystemCallError, IOError
        forget(client)
      end

      def forget(client)
        @lock.synchronize { @subscribers.delete(client) }
        client.close
      rescue IOError
        nil
      end
    end
  end
end

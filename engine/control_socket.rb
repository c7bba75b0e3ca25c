# frozen_string_literal: true

require "socket"

module Loomshuttle
  module Engine
    # How the server talks to the engine: JSON lines on a local socket. Each request is
    # {"do": ..., ...}; each answer {"ok": ...} or {"error": {field, value, allowed, message}}.
    # After {"do": "subscribe"} the line carries {"meters": ..., "status": ...} 20 times a
    # second.
    class ControlSocket
      METERS_PER_S = 20
      # A line longer than this is no request of ours.
      LINE_BYTES_MAX = 1024 * 1024
      private_constant :METERS_PER_S, :LINE_BYTES_MAX

      def initialize(runner, port:, data_folder:)
        @runner = runner
        @data_folder = File.expand_path(data_folder)
        @server = TCPServer.new("127.0.0.1", port)
        @subscribers = []
        Thread.new { accept }
        Thread.new { publish }
      end

      private

      def accept
        loop { Thread.new(@server.accept) { |client| serve(client) } }
      end

      def serve(client)
        while (line = client.gets("\n", LINE_BYTES_MAX))
          client.write(JSON.generate(answer(client, line)) + "\n")
        end
      rescue SystemCallError, IOError
        nil
      ensure
        @subscribers.delete(client)
        client.close
      end

      def answer(client, line)
        {ok: act(client, JSON.parse(line))}
      rescue BadInput => e
        {error: e.to_h}
      rescue JSON::ParserError, KeyError, SystemCallError, TypeError => e
        {error: {field: "request", value: line[0, 80], allowed: "a JSON line with \"do\"", message: e.message[0, 200]}}
      end

      def act(client, request)
        case request["do"]
        when "status" then @runner.status
        when "ribbon" then @runner.ribbon
        when "record" then @runner.record(request.fetch("folder"), request.fetch("take")) && true
        when "stop" then @runner.stop_recording || true
        when "play" then play(request)
        when "stop_playing" then @runner.stop_playing || true
        when "subscribe" then @subscribers << client && true
        else raise BadInput.new(field: "do", value: request["do"], allowed: "status, ribbon, record, stop, play, stop_playing, subscribe")
        end
      end

      def play(request)
        sources = request.fetch("files").map { |file| FileSource.new(inside(file.fetch("path")), channel: file.fetch("channel"), lane: file.fetch("lane")) }
        sources << click(request["click"]) if request["click"]
        @runner.play(sources,
          label: request.fetch("label"),
          from_frame: request.fetch("from_frame", 0),
          repeat: request.fetch("repeat", false))
        true
      rescue Errno::ENOENT => e
        raise BadInput.new(field: "file", value: e.message[/[^\/]+\z/], allowed: "a file of this take that is still there")
      end

      def click(given)
        click = Show::Click.new(bpm: given.fetch("bpm").to_r,
          beats_per_bar: given.fetch("beats_per_bar"),
          sample_rate_hz: given.fetch("rate_hz"))
        ClickSource.new(click, lane: given.fetch("lane"), frames: given.fetch("frames"), rate_hz: given.fetch("rate_hz"))
      end

      # Files are named relative to the data folder and never lie outside it.
      def inside(path)
        full = File.expand_path(path, @data_folder)
        raise BadInput.new(field: "path", value: path, allowed: "a file inside the data folder") unless full.start_with?("#{@data_folder}/")

        full
      end

      def publish
        loop do
          sleep 1.0 / METERS_PER_S
          next if @subscribers.empty?

          line = JSON.generate(meters: @runner.meters, status: @runner.status) + "\n"
          @subscribers.dup.each { |client| send_line(client, line) }
        end
      end

      # A subscriber that does not read is dropped rather than waited for.
      def send_line(client, line)
        client.write_nonblock(line)
      rescue SystemCallError, IOError
        @subscribers.delete(client)
      end
    end
  end
end

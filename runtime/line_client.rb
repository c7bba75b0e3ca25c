# frozen_string_literal: true

require "io/wait"
require "json"
require "socket"

module Loomshuttle
  module Runtime
    # The other end of a LineServer: requests that wait for their answers, and a line to follow.
    #
    #   client = LineClient.new(path, who: "the audio engine")
    #   client.ask(do: "status")          # => what it answered
    #   client.follow { |frame| ... }     # until the line breaks
    #
    # Each request has a line of its own: one that waits keeps no other waiting.
    class LineClient
      ANSWER_S = 10
      private_constant :ANSWER_S

      def initialize(path, who:)
        @path = path
        @who = who
      end

      # @param fields the request, with :do
      # @param seconds [Numeric] how long to wait; the other side does not begin it later
      # @return [Object] the answer, string keys
      # @raise [BadInput] what was refused, in the other side's own words
      # @raise [Gone]
      def ask(fields = {}, seconds: ANSWER_S, **more)
        answer = exchange({**fields, **more, until_s: now_s + seconds}, seconds)
        fault = answer["error"] or return answer["ok"]
        raise BadInput.new(field: fault["field"], value: fault["value"], allowed: fault["allowed"], message: fault["message"])
      rescue SystemCallError, IOError, JSON::ParserError => e
        raise Gone.new(@who, e.message)
      end

      # @yield [Hash] each frame, string keys
      # @raise [Gone] when the line breaks
      def follow
        connect do |line|
          line.write("{\"do\":\"subscribe\"}\n")
          while (text = line.gets)
            frame = JSON.parse(text)
            yield frame unless frame.key?("ok")
          end
        end
        raise Gone.new(@who, "the line is closed")
      rescue SystemCallError, IOError, JSON::ParserError => e
        raise Gone.new(@who, e.message)
      end

      private

      def exchange(request, seconds)
        connect do |line|
          line.write(JSON.generate(request) + "\n")
          line.wait_readable(seconds) or raise IOError, "no answer in #{seconds} s"
          JSON.parse(line.gets || raise(IOError, "the line is closed"))
        end
      end

      def connect
        line = SocketPath.short(@path) { |short| UNIXSocket.new(short) }
        yield line
      ensure
        line&.close
      end

      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end

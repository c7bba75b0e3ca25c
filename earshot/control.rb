# frozen_string_literal: true

module Loomshuttle
  module Earshot
    # How the ear is spoken to: {"do": "listen", "for_s": 5} again and again for as long as it is wanted;
    # {"do": "ping"} while the deck sends one; whoever subscribed is told each arrival at once, and ten times a second that it is there.
    class Control
      # A block of 1,024 frames comes every 21 ms.
      TURN_S = 0.01
      PER_S = 10
      # Arrays of samples are not in the collector's accounts.
      COLLECT_S = 1.0
      KNOWN = %w[status listen forget ping subscribe].freeze
      private_constant :TURN_S, :PER_S, :COLLECT_S, :KNOWN

      # @param hearing [Hearing]
      # @param echo [Echo]
      # @param path [String] of the socket
      def initialize(hearing, echo, path:)
        @hearing, @echo = hearing, echo
        @line = Runtime::LineServer.new(path, contract: Runtime::LineContract.new(Shelf.api, "Ear", KNOWN)) { |request| act(request) }
        Runtime::Loop.start("hear", pause_s: TURN_S) { @hearing.turn && tell }
        Runtime::Loop.start("publish", pause_s: 1.0 / PER_S) { tell }
        Runtime::Loop.start("collect", pause_s: COLLECT_S) { GC.start(full_mark: false) }
      end

      private

      def act(request)
        return @echo.heard(**request.slice("at_frame", "inputs", "lanes", "level_dbfs", "quick").transform_keys(&:to_sym)) if request["do"] == "ping"

        @hearing.wanted(request["for_s"], anew: request["anew"], deaf: request["deaf"]) if request["do"] == "listen"
        @hearing.forget_levels(request["lanes"]) if request["do"] == "forget"
        @hearing.told
      end

      def tell = @line.subscribers? && @line.publish(ear: @hearing.told)
    end
  end
end

# frozen_string_literal: true

require "osc-ruby"
require "socket"

module Loomshuttle
  module Server
    # Runs the stage by OSC 1.0 over UDP, where somebody wants it: an address space of our own (docs/formats/stage-osc.md),
    # from listed senders only. Each message is answered: /loomshuttle/ok ,s its address, or /loomshuttle/no ,ss its address why.
    class StageOsc
      PREFIX = "/loomshuttle/"
      BYTES_MAX = 1024
      TURN_S = 0.5
      private_constant :PREFIX, :BYTES_MAX, :TURN_S

      # @return [String, nil] why it does not listen though somebody wants it
      attr_reader :fault

      # @param kept [Store::StageOsc]
      # @param stage [Actions::RunStage]
      # @param leads [#call] whether it is this process that listens
      def initialize(kept, stage, leads: -> { true })
        @kept, @stage, @leads = kept, stage, leads
      end

      def start
        Runtime::Loop.start("stage OSC", pause_s: TURN_S, retry_s: 1) { listen }
        self
      end

      # Somebody wants it otherwise.
      def retune = @stale = true

      private

      def listen
        @stale = false
        wish = @kept.now
        @fault = nil unless wish.listens
        return unless wish.listens && @leads.call

        socket = UDPSocket.new.tap { |one| one.bind(wish.host, wish.port) }
        @fault = nil
        hear(socket, wish) until otherwise?(wish)
      rescue SystemCallError => e
        @fault = "port #{wish.port}: #{e.message}"
      ensure
        socket&.close
      end

      # The same wish said again closes nothing.
      def otherwise?(wish)
        return false unless @stale

        @stale = false
        @kept.now != wish
      end

      def hear(socket, wish)
        return unless socket.wait_readable(TURN_S)

        bytes, sender = socket.recvfrom(BYTES_MAX)
        return unless wish.senders.include?(sender[3])

        OSC::OSCPacket.messages_from_network(bytes).each { |message| socket.send(answer(message, sender[3]).encode, 0, sender[3], sender[1]) }
      rescue EOFError, ArgumentError, NoMethodError, RangeError
        # The gem tells what is no OSC in all these ways. Whoever sent it is told nothing: it has no address.
        nil
      end

      def answer(message, host)
        address = message.address.to_s
        @stage.call(address.delete_prefix(PREFIX), message.to_a, who: "OSC #{host}")
        OSC::Message.new("#{PREFIX}ok", address)
      rescue BadInput, Runtime::Gone => e
        OSC::Message.new("#{PREFIX}no", address, e.message)
      end
    end
  end
end

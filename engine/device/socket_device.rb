# frozen_string_literal: true

require "socket"

module Loomshuttle
  module Engine
    module Device
      # The stand-in's card on a local socket. See Device::Format for the contract.
      class SocketDevice
        def initialize(port:, host: "127.0.0.1")
          @host = host
          @port = port
        end

        def name = "stand-in desk"

        def open
          @socket = TCPSocket.new(@host, @port)
          @socket.setsockopt(Socket::IPPROTO_TCP, Socket::TCP_NODELAY, 1)
          head = JSON.parse(@socket.gets || raise(Lost, "the desk closed the line"))
          @format = Format.new(rate_hz: head.fetch("rate_hz"),
            lanes_in: head.fetch("lanes_in"),
            lanes_out: head.fetch("lanes_out"),
            block_frames: head.fetch("block_frames"))
        rescue SystemCallError, JSON::ParserError, KeyError => e
          raise Lost, e.message
        end

        def read(buffer)
          @socket.read(@format.block_bytes_in, buffer)
          raise Lost, "the desk closed the line" unless buffer.bytesize == @format.block_bytes_in

          buffer
        rescue SystemCallError, IOError => e
          raise Lost, e.message
        end

        def write(bytes)
          @socket.write(bytes)
        rescue SystemCallError, IOError => e
          raise Lost, e.message
        end

        def close = @socket&.close
      end
    end
  end
end

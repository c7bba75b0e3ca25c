# frozen_string_literal: true

require "io/wait"
require "socket"

module Loomshuttle
  module Engine
    module Device
      # The stand-in's card on a Unix socket: a network's, even on loopback, stood still for 0.2 s
      # now and then at some sizes of block, and costs more. See Device::Format for the contract.
      class SocketDevice
        # A desk that lets us in says so at once.
        OPEN_S = 1.0
        # Blocks of playback that may wait in the socket: a desk that takes none is gone.
        WRITE_S = 2.0
        private_constant :OPEN_S, :WRITE_S

        # @param path [String] of the card's socket
        def initialize(path:)
          @path = path
        end

        def name = "stand-in desk"

        def open
          @socket = Runtime::SocketPath.short(@path) { |short| UNIXSocket.new(short) }
          @part = String.new
          @chunk = String.new
          @format = format_of(JSON.parse(head))
        rescue Errno::ECONNREFUSED, Errno::ENOENT
          raise Lost, "the simulated desk is switched off"
        rescue SystemCallError, IOError, JSON::ParserError, KeyError => e
          close
          raise Lost, e.message
        end

        def read(buffer, wait_s)
          whole = @format.block_bytes_in
          @part.empty? ? buffer.clear : buffer.replace(@part)
          @part.clear
          until buffer.bytesize == whole
            return keep(buffer) unless @socket.wait_readable(wait_s)

            # Mostly a block lies there whole by now and is read where it is wanted.
            into = buffer.empty? ? buffer : @chunk
            got = @socket.read_nonblock(whole - buffer.bytesize, into, exception: false)
            raise Lost, "the desk closed the line" if got.nil?

            buffer << @chunk unless got == :wait_readable || into.equal?(buffer)
          end
          0
        rescue SystemCallError, IOError => e
          raise Lost, e.message
        end

        # A desk that stands still takes nothing; the block loop does not stand still with it.
        def write(bytes)
          from = 0
          while from < bytes.bytesize
            rest = (from == 0) ? bytes : bytes.byteslice(from..)
            sent = @socket.write_nonblock(rest, exception: false)
            (sent == :wait_writable) ? (@socket.wait_writable(WRITE_S) or raise Lost, "the desk takes no playback") : from += sent
          end
          0
        rescue SystemCallError, IOError => e
          raise Lost, e.message
        end

        def close
          @socket&.close
        rescue IOError
          nil
        end

        private

        # Half a block that came before the desk stood still is the beginning of the next read.
        def keep(buffer)
          @part.replace(buffer)
          nil
        end

        def head
          text = String.new
          until text.end_with?("\n")
            @socket.wait_readable(OPEN_S) or raise Lost, "the desk does not say what it is"
            text << (@socket.getc || raise(Lost, "the desk closed the line"))
          end
          text
        end

        def format_of(given)
          Format.new(rate_hz: given.fetch("rate_hz"),
            lanes_in: given.fetch("lanes_in"),
            lanes_out: given.fetch("lanes_out"),
            block_frames: given.fetch("block_frames"))
        end
      end
    end
  end
end

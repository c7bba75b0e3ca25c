# frozen_string_literal: true

require "ipaddr"
require "socket"

module Loomshuttle
  module Runtime
    # The multicast group in which desks are looked for: a question goes to all that are on one
    # network, and each answers from the address at which it is spoken to. The group lies in the
    # range that stays within a site (RFC 2365); a datagram never leaves that network (TTL 1).
    module SearchGroup
      HOST = "239.255.76.83"
      PORT = 7683
      LOOPBACK = "127.0.0.1"
      # Linux only (ip(7)): else what another network's member joined would come here too.
      IP_MULTICAST_ALL = 49
      private_constant :IP_MULTICAST_ALL

      module_function

      # @param network [String] IPv4 address of the interface
      # @return [UDPSocket] hears questions from that network; any number may on one machine
      # @raise [SystemCallError] where the interface has no multicast
      def listen(network = LOOPBACK)
        UDPSocket.new.tap do |socket|
          socket.setsockopt(:SOCKET, :REUSEADDR, 1)
          socket.bind(HOST, PORT)
          socket.setsockopt(:IP, :ADD_MEMBERSHIP, IPAddr.new(HOST).hton + IPAddr.new(network).hton)
          socket.setsockopt(:IP, IP_MULTICAST_ALL, 0)
        end
      end

      # @return [UDPSocket] to which the answers come
      def ask(packet, network = LOOPBACK)
        UDPSocket.new.tap do |socket|
          socket.bind(network, 0)
          socket.setsockopt(:IP, :MULTICAST_IF, IPAddr.new(network).hton)
          socket.setsockopt(:IP, :MULTICAST_TTL, 1)
          socket.send(packet, 0, HOST, PORT)
        end
      end
    end
  end
end

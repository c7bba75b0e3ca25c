# frozen_string_literal: true

require "ipaddr"

module Loomshuttle
  module Server
    module Links
      # Where a desk is spoken to: an IPv4 address and a UDP port.
      DeskAddress = Value.of(:host, :port) do
        # @param text [String] "192.168.1.20:7600"
        # @return [DeskAddress]
        # @raise [BadInput]
        def self.parse(text)
          host, port = text.to_s.strip.match(/\A([\d.]+):(\d{1,5})\z/)&.captures
          address = host && IPAddr.new(host)
          raise BadInput.new(field: "address", value: text, allowed: "an IPv4 address and a port, as 192.168.1.20:7600") unless address && port.to_i.between?(1, 65_535)

          new(host: address.to_s, port: port.to_i)
        rescue IPAddr::Error
          raise BadInput.new(field: "address", value: text, allowed: "an IPv4 address, each of its four numbers from 0 to 255, and a port")
        end

        # @return [DeskAddress] of a desk on this machine
        def self.loopback(port) = new(host: "127.0.0.1", port: port)

        def to_s = "#{host}:#{port}"
      end
    end
  end
end

# frozen_string_literal: true

require "json"
require "rqrcode"
require "socket"

module Loomshuttle
  module Server
    # Where others get in: written down for the front door's keeper (boot/front_door.rb), which opens and closes it.
    class Entrance
      QR_PIXELS = 6
      private_constant :QR_PIXELS

      # @param path [String] of the file that says it
      # @param port [Integer] at which the front door listens
      # @param trouble [String] path of the file in which its keeper says why nobody gets in
      def initialize(path, port:, trouble:)
        @path, @port, @trouble = path, port, trouble
      end

      # @return [Hash] addresses of this machine; open: those at which others get in; port; urls; fault: why nobody
      #   gets in all the same, or nil
      def now
        open = read
        {addresses: addresses, open: open, port: @port, urls: open.map { |address| url(address) },
         fault: (fault if open.any?)}
      end

      # @param wanted [Array<String>] addresses of this machine; none closes the door
      # @raise [BadInput]
      def open(wanted)
        strange = wanted.find { |address| !addresses.include?(address) && !address.match?(/\A127(\.\d{1,3}){3}\z/) }
        raise BadInput.new(field: "addresses", value: strange, allowed: addresses.join(", ")) if strange

        wanted.empty? ? File.delete(@path) : write(wanted.uniq)
        now
      rescue Errno::ENOENT
        now
      end

      # @param certificate [Boolean] of the authority's certificate rather than of the page
      # @return [String] the address as a picture
      def qr(address, certificate: false) = RQRCode::QRCode.new("#{url(address)}#{"authority.crt" if certificate}").as_svg(module_size: QR_PIXELS, viewbox: true, use_path: true, offset: 4 * QR_PIXELS, fill: "fff")

      private

      def addresses = Socket.ip_address_list.select { |one| one.ipv4? && !one.ipv4_loopback? }.map(&:ip_address)
      def url(address) = "https://#{address}:#{@port}/"

      def fault
        File.read(@trouble)
      rescue SystemCallError
        nil
      end

      def read
        JSON.parse(File.read(@path)).fetch("addresses")
      rescue SystemCallError, JSON::ParserError, KeyError
        []
      end

      def write(addresses)
        File.write("#{@path}.new", JSON.generate(addresses: addresses))
        File.rename("#{@path}.new", @path)
      end
    end
  end
end

# frozen_string_literal: true

require "osc-ruby"

module Loomshuttle
  module Server
    module Links
      # Looks for desks on one network: asks all at once and gives them a moment to answer.
      class DeskSearch
        Found = Value.of(:name, :address)
        LISTEN_S = 0.6
        NAME_CHARACTERS = 100
        private_constant :LISTEN_S, :NAME_CHARACTERS

        # @param network [String] IPv4 address of the interface that is searched
        def initialize(network: Runtime::SearchGroup::LOOPBACK)
          @network = network
        end

        # @return [Array<Found>] each desk once, by address
        # @raise [DeskLink::Failed] where that network cannot be searched
        def call
          id = rand(1..1_000_000)
          socket = Runtime::SearchGroup.ask(OSC::Message.new("/find", id).encode, @network)
          answers(socket, id).uniq(&:address).sort_by { |found| [found.address.host, found.address.port] }
        rescue SystemCallError => e
          raise DeskLink::Failed, "the network of #{@network} cannot be searched: #{e.message}"
        ensure
          socket&.close
        end

        private

        def answers(socket, id)
          found = []
          until_s = now + LISTEN_S
          while (left = until_s - now) > 0 && socket.wait_readable(left)
            data, sender = socket.recvfrom(65_535)
            found << named(data, id, sender)
          end
          found.compact
        end

        # @return [Found, nil] nil for what is no answer to this question
        def named(data, id, sender)
          message = OSC::OSCPacket.messages_from_network(data).first
          asked, name = message.to_a
          return nil unless message.address == "/here" && asked == id && name.is_a?(String)

          Found.new(name: name.dup.force_encoding("UTF-8").scrub[0, NAME_CHARACTERS], address: DeskAddress.new(host: sender[3], port: sender[1]))
        rescue
          nil
        end

        def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      end
    end
  end
end

# frozen_string_literal: true

require "ipaddr"

module Loomshuttle
  module Server
    module Store
      # Whether the stage is run by OSC too, at which port, and from which addresses.
      class StageOsc
        # listens  off until somebody wants it
        # senders  IP addresses; all others are not listened to
        Wish = Value.of(listens: false, port: 7700, senders: ["127.0.0.1"].freeze) do
          # Nobody but this machine hears of a port that only this machine may use.
          def host = (senders.all? { |sender| IPAddr.new(sender).loopback? }) ? "127.0.0.1" : "0.0.0.0"
        end
        SENDERS_MAX = 20

        def initialize(database, changes)
          @database, @changes = database, changes
        end

        # @return [Wish]
        def now
          row = @database[:stage_osc].select(:listens, :port, :senders).first
          row ? Wish.new(**row, senders: row[:senders].to_a.freeze) : Wish.new
        end

        # @param wish [Wish]
        # @raise [BadInput]
        def keep(wish)
          refuse(wish)
          row = {listens: wish.listens, port: wish.port, senders: Sequel.pg_array(wish.senders, :text)}
          @database.transaction do
            @database[:stage_osc].insert_conflict(target: :one, update: row).insert(row)
            @changes.say("stage_osc")
          end
        end

        private

        def refuse(wish)
          wrong = wish.senders.find { |sender| !ipv4?(sender) }
          raise BadInput.new(field: "senders", value: wrong, allowed: "IPv4 addresses such as 192.168.1.20") if wrong
          return if wish.senders.size.between?(1, SENDERS_MAX)

          raise BadInput.new(field: "senders", value: wish.senders.size, allowed: "1 to #{SENDERS_MAX} addresses")
        end

        def ipv4?(text) = text.match?(/\A\d{1,3}(\.\d{1,3}){3}\z/) && IPAddr.new(text).ipv4?
      end
    end
  end
end

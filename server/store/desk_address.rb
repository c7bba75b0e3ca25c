# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Where the desk is spoken to, as somebody typed or found it.
      class DeskAddress
        # @param shipped [Links::DeskAddress] the simulated desk's, good until another is kept
        def initialize(database, changes, shipped)
          @database, @changes, @shipped = database, changes, shipped
        end

        # @return [Links::DeskAddress]
        def now = @database[:desk_address].select(:host, :port).first&.then { |row| Links::DeskAddress.new(**row) } || @shipped

        # The desk that was told of edits is not this one: until somebody has said which way, it is only
        # watched.
        #
        # @param address [Links::DeskAddress]
        def keep(address)
          @database.transaction do
            row = {host: address.host, port: address.port}
            @database[:desk_address].insert_conflict(target: :one, update: row).insert(row)
            @database[:on_air].returning(:show_id).update(follows: false).each { |seat| @changes.say("on_air", id: seat[:show_id], follows: false) }
            @changes.say("desk_address", address: address.to_s)
          end
        end
      end
    end
  end
end

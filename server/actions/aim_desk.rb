# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Which desk is spoken to: looked for, typed, and kept.
      class AimDesk
        # @param kept_address [Store::DeskAddress]
        # @param search [Links::DeskSearch]
        # @param desk_link [Links::DeskLink]
        # @param on_air [Store::OnAir]
        # @param shows [Store::Shows]
        # @param history [Store::History]
        # @param running [RunningTake]
        def initialize(kept_address:, search:, desk_link:, on_air:, shows:, history:, running:)
          @kept_address, @search, @desk_link, @on_air, @shows, @history, @running = kept_address, search, desk_link, on_air, shows, history, running
        end

        # @return [Hash] address, and whether a desk answers there
        def now = {address: @desk_link.address.to_s, answers: @desk_link.answers?}

        # @return [Array<Hash>] name and address of each desk that answered
        # @raise [Links::DeskLink::Failed]
        def search = @search.call.map { |found| {name: found.name, address: found.address.to_s} }

        # Speaks to the desk at this address from here on, and writes nothing into it.
        #
        # @param text [String] "192.168.1.20:7600"
        # @return [Hash] as `now`: whether it answers is not known yet
        # @raise [BadInput] while a take runs
        def call(text, author)
          address = Links::DeskAddress.parse(text)
          take = @running.now
          raise BadInput.new(field: "address", value: text, allowed: "another desk when take #{take.dig("take", "number")} is over; stop it first") if take
          return now if address == @kept_address.now

          id = @on_air.show_id
          @kept_address.keep(address)
          @history.note(id, author, @shows.load(id).version, "Desk at #{address}: only watched until a direction is chosen") if id
          {address: address.to_s, answers: false}
        end
      end
    end
  end
end

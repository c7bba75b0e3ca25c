# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Which show holds the desk and the audio device, and whether the desk is told of its edits.
      class OnAir
        # show_id, and follows: false while somebody only watches the desk.
        Seat = Value.of(:show_id, :follows)
        NOBODY = Seat.new(show_id: nil, follows: false)
        private_constant :NOBODY

        def initialize(database, changes)
          @database, @changes = database, changes
        end

        # @return [Seat] with show_id nil where none is on air
        def now = @database[:on_air].select(:show_id, :follows).first&.then { |row| Seat.new(**row) } || NOBODY

        def show_id = now.show_id
        def on_air?(id) = show_id == id

        # @param id [Integer] of the show
        def put(id, follows:)
          @database.transaction do
            @database[:on_air].insert_conflict(target: :one, update: {show_id: id, follows: follows, since: Sequel::CURRENT_TIMESTAMP}).insert(show_id: id, follows: follows)
            @changes.say("on_air", id: id, follows: follows)
          end
        end

        # Nobody holds the desk any more.
        def clear
          @database.transaction do
            @database[:on_air].delete
            @changes.say("on_air", id: nil, follows: false)
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # What was pressed while a show played, by whom, and where the song was: the show's log. It is only ever added to.
      class Presses
        def initialize(database)
          @database = database
        end

        # Called when what was pressed has happened. A database that is gone keeps nobody from playing.
        #
        # @param who [String]
        # @param label [String] e.g. "Stop"
        # @param place [String] e.g. "Low tide waltz, bar 12"; empty while nothing plays
        def note(show_id, who:, label:, place: "")
          @database[:presses].insert(show_id: show_id, who: who, label: label, place: place)
        rescue Sequel::Error => e
          warn "log of the night: \"#{label}\" #{place} is not kept: #{e.message.lines.first}"
        end

        # @param before [Integer, nil] id; older ones only
        # @return [Array<Hash>] id, at, who, label, place; newest first
        def list(show_id, before: nil, limit: 200)
          found = @database[:presses].where(show_id: show_id)
          found = found.where { id < before } if before
          found.reverse(:id).limit(limit).select(:id, :at, :who, :label, :place).map { |row| row.merge(at: row[:at].utc.iso8601(1)) }
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # All shows as a list: what they are called, what is open in them, what their takes weigh; and where
      # each stands: at hand, archived, or in the bin.
      class Shelf
        # How long somebody may think better of it.
        BIN_DAYS = 30
        PLACES = %w[at_hand archived bin].freeze
        COLUMNS = %i[id name venue plays_on changed_at archived_at binned_at version findings].freeze
        private_constant :COLUMNS

        def initialize(database, changes)
          @database, @changes = database, changes
        end

        # @param place [String] one of PLACES
        # @param search [String] part of a name or venue, or the beginning of a date
        # @return [Hash] shows: newest change first, count: of all that were found
        def list(place: "at_hand", search: "", from: 0, limit: 50)
          found = matching(at(place), search)
          rows = found.reverse(:changed_at, :id).limit(limit, from).select(*COLUMNS).all
          weights = weights(rows)
          {count: found.count, shows: rows.map { |row| data(row, weights) }}
        end

        # @return [Hash] as in the list
        # @raise [BadInput]
        def find(id)
          row = @database[:shows].where(id: id, doomed: false).select(*COLUMNS).first or raise BadInput.new(field: "show", value: id, allowed: "a show that is there")
          data(row, weights([row]))
        end

        # @return [Hash{String => Integer}] how many stand where
        def counts = PLACES.to_h { |place| [place, at(place).count] }

        # @param place [String] one of PLACES
        def put(id, place)
          @database.transaction do
            now = Sequel::CURRENT_TIMESTAMP
            @database[:shows].where(id: id).update(archived_at: (now if place == "archived"), binned_at: (now if place == "bin"))
            @changes.say("shows", id: id)
          end
        end

        # It will be deleted, and nobody sees it any more; whoever is broken off in this goes on with it later.
        def doom(id)
          @database.transaction do
            @database[:shows].where(id: id).update(doomed: true)
            @changes.say("shows", id: id)
          end
        end

        # @return [Array<Integer>] ids of what is to be deleted
        def doomed = @database[:shows].where(doomed: true).select_map(:id)

        # Takes and history go with it.
        def delete(id)
          @database.transaction do
            @database[:shows].where(id: id).delete
            @changes.say("shows", id: id)
          end
        end

        # What has been in the bin for its time. What holds takes stays until somebody says its name.
        #
        # @return [Array<Integer>] ids
        def outlived
          recorded = @database[:takes].where(show_id: Sequel[:shows][:id]).select(1)
          @database[:shows].where { |show| show.binned_at < Sequel.lit("now() - interval '#{BIN_DAYS} days'") }.exclude(recorded.exists).select_map(:id)
        end

        # What is open in a show at one version, for the list; an older version's says nothing new.
        #
        # @param counts [Hash] stop, warn, note and the version
        def note_findings(id, version, counts)
          @database.transaction do
            noted = @database[:shows].where(id: id, version: version).exclude(findings: Sequel.pg_jsonb(counts)).update(findings: Sequel.pg_jsonb(counts))
            @changes.say("shows", id: id) if noted > 0
          end
        end

        # @return [Array<Integer>] ids of shows of whose findings nothing is known yet
        def uncounted(count) = @database[:shows].where(findings: Sequel.pg_jsonb({}), doomed: false).reverse(:id).limit(count).select_map(:id)

        private

        def at(place)
          shows = @database[:shows].where(doomed: false)
          case place
          when "bin" then shows.exclude(binned_at: nil)
          when "archived" then shows.where(binned_at: nil).exclude(archived_at: nil)
          else shows.where(binned_at: nil, archived_at: nil)
          end
        end

        def matching(shows, search)
          words = search.to_s.split.first(8)
          words.reduce(shows) { |found, word| found.where(Sequel.ilike(Sequel.join([:name, :venue, :plays_on], " "), "%#{shows.escape_like(word)}%")) }
        end

        # @return [Hash{Integer => Hash}] takes and bytes of each show that has any
        def weights(rows)
          @database[:takes].where(show_id: rows.map { |row| row[:id] }).group(:show_id)
            .select(:show_id, Sequel.function(:count).*.as(:takes), Sequel.cast(Sequel.function(:sum, :bytes), :bigint).as(:bytes)).as_hash(:show_id)
        end

        def data(row, weights)
          weight = weights.fetch(row[:id], {takes: 0, bytes: 0})
          {id: row[:id], name: row[:name], venue: row[:venue], date: row[:plays_on], version: row[:version], changed_at: row[:changed_at].utc.iso8601,
           place: place(row), bin_days_left: days_left(row), takes: weight[:takes], bytes: weight[:bytes].to_i,
           findings: findings(row[:findings].to_h)}
        end

        # Nil where nobody has looked yet.
        def findings(counts) = counts.empty? ? nil : %w[stop warn note].to_h { |severity| [severity, counts.fetch(severity, 0)] }

        def place(row)
          return "bin" if row[:binned_at]

          row[:archived_at] ? "archived" : "at_hand"
        end

        def days_left(row) = row[:binned_at] && [BIN_DAYS - ((Time.now - row[:binned_at]) / 86_400).floor, 0].max
      end
    end
  end
end

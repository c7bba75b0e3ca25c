# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Short sounds that somebody brought for clicks and cues.
      class Sounds
        def initialize(database, changes)
          @database, @changes = database, changes
        end

        # @return [Array<Hash>] id, name, length_ms, songs (so many ask for it), by name
        def list
          asked = @database[:songs].exclude(click: Sequel.pg_jsonb({}), cues: Sequel.pg_jsonb({})).select_map(%i[click cues])
          used = asked.flat_map { |both| Show::OwnSound.of(*both.map { |data| JSON.parse(JSON.generate(data)) }) }.tally
          @database[:sounds].order(:name, :id).select(:id, :name, :length_ms).map { |sound| sound.merge(songs: used.fetch(sound[:id], 0)) }
        end

        # One that is there already keeps its name.
        def keep(id, name, length_ms)
          changed { @database[:sounds].insert_conflict(target: :id).insert(id: id, name: name, length_ms: length_ms) }
        end

        # @raise [BadInput] for one that a song asks for
        def remove(id)
          changed do
            sound = list.find { |one| one[:id] == id } or raise BadInput.new(field: "sound", value: id, allowed: "a sound of the library")
            raise BadInput.new(field: "sound", value: sound[:name], allowed: "a sound that no song asks for; #{sound[:songs]} #{(sound[:songs] == 1) ? "does" : "do"}") if sound[:songs].positive?

            @database[:sounds].where(id: id).delete
          end
        end

        private

        def changed
          @database.transaction { yield.tap { @changes.say("library") } }
        end
      end
    end
  end
end

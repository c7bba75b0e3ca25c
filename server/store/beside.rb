# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # What stands beside a show under a version of its own, one row a show: a line check, a soundcheck. Everybody
      # who looks at the show sees the same.
      #
      #   linechecks = Beside.new(database, changes, table: :linechecks, topic: "linecheck", state: Linecheck::State)
      #   linechecks.change(3) { |state| state.stopped }
      class Beside
        # version  grows with every change
        # state    of the class that is kept
        Kept = Value.of(:version, :state)

        # @param topic [String] that is told of each change, with show and version
        # @param state [Class] answers new, from_data(Hash), and its own to_data
        def initialize(database, changes, table:, topic:, state:)
          @database, @changes, @rows, @topic, @state = database, changes, database[table], topic, state
        end

        # @return [Kept] of version 0 where nothing was ever kept
        def of(show_id) = kept(@rows.where(show_id: show_id).first)

        # @yield [Object] the state as it is now => what it is to be; the same for no change
        # @return [Kept]
        def change(show_id)
          @database.transaction do
            # The show's row stands before the first of these: two that begin at once wait for each other.
            @database[:shows].where(id: show_id).for_update.get(:id) or raise BadInput.new(field: "show", value: show_id, allowed: "a show that is here")
            before = of(show_id)
            after = yield before.state
            next before if after == before.state

            write(show_id, before.version + 1, after)
          end
        end

        private

        def write(show_id, version, state)
          values = {version: version, state: Sequel.pg_jsonb(state.to_data)}
          @rows.insert_conflict(target: :show_id, update: values).insert(show_id: show_id, **values)
          @changes.say(@topic, show: show_id, version: version)
          Kept.new(version: version, state: state)
        end

        def kept(row)
          return Kept.new(version: 0, state: @state.new) unless row

          Kept.new(version: row[:version], state: @state.from_data(JSON.parse(JSON.generate(row[:state]))))
        end
      end
    end
  end
end

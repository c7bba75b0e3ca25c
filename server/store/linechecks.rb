# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # The guided line check of each show.
      class Linechecks
        # version  grows with every change
        # state    Linecheck::State
        Kept = Value.of(:version, :state)

        def initialize(database, changes)
          @database, @changes, @checks = database, changes, database[:linechecks]
        end

        # @return [Kept] of version 0 where none was begun
        def of(show_id) = kept(@checks.where(show_id: show_id).first)

        # @yield [Linecheck::State] what it is now => what it is to be; the same for no change
        # @return [Kept]
        def change(show_id)
          @database.transaction do
            # The show's row stands before the check's first: two that begin at once wait for each other.
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
          @checks.insert_conflict(target: :show_id, update: values).insert(show_id: show_id, **values)
          @changes.say("linecheck", show: show_id, version: version)
          Kept.new(version: version, state: state)
        end

        def kept(row)
          return Kept.new(version: 0, state: Loomshuttle::Linecheck::State.new) unless row

          Kept.new(version: row[:version], state: Loomshuttle::Linecheck::State.from_data(JSON.parse(JSON.generate(row[:state]))))
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Plan against desk: the difference, pushed to the desk or pulled from it, whole or by
      # field.
      module Desk
        def self.registered(app)
          app.get("/api/desk") { json Views.desk(show, context.drifted(show), context.desk_fault) }
          app.post("/api/desk/push") { json sent: push(given["fields"]) }
          app.post("/api/desk/pull") { edited("Pull from the desk") { |now| pull(now, given["fields"]) } }
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          # A desk that stands on another rig than the plan refuses places that it has not: with
          # all that is planned the whole stage is set up anew.
          def push(fields)
            state = context.desk.state
            there = show.with(patch: show.patch.with(**state.to_h.slice(:slots, :sends, :turned, :powered)))
            context.desk.send_changes(state, Loomshuttle::Compare::Blend.of(there, show.patch, fields, guard: false))
          rescue Links::DeskLink::Refused
            raise if fields

            context.desk.stage(show)
            show.patch.slots.size
          end

          def pull(now, fields)
            Loomshuttle::Edits::Recall.new(scene: Loomshuttle::Patch::DeskSide.over(now, now.patch, context.desk.state), fields: fields)
          end
        end
      end
    end
  end
end

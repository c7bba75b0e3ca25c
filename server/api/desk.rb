# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Plan against desk: which show holds it; the difference, pushed to the desk or pulled from it, whole or
      # by field. Which desk that is, is the installation's.
      module Desk
        def self.registered(app)
          app.get("/api/desk") { json @aim_desk.now }
          app.put("/api/desk") { json @aim_desk.call(given["address"], author) }
          app.get("/api/desk/search") { json found: @aim_desk.search }
          app.get("#{SHOW}/desk") { workspace.kept.then { |kept| json Views.desk(kept.show, desk.drifted(kept), desk.fault) } }
          app.post("#{SHOW}/desk/push") { on_air! && json(sent: desk.push(show, given["fields"])) }
          app.post("#{SHOW}/desk/pull") { on_air! && edited("Pull from the desk") { |now| pull(now, given["fields"]) } }
          app.get("#{SHOW}/on-air") { json @put_on_air.compare(workspace.id) }
          app.post("#{SHOW}/on-air") { @put_on_air.call(workspace.id, given["direction"], author).then { |kept| kept.is_a?(Refusal) ? refuse(kept) : json(version: kept.version) } }
          app.delete("#{SHOW}/on-air") { json ok: @put_on_air.leave(workspace.id, author) || true }
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          # Only the show that holds the desk moves it, or is told by it.
          #
          # @raise [BadInput]
          def on_air!
            return true if on_air.on_air?(workspace.id)

            raise BadInput.new(field: "show", value: show.name, allowed: "the show on air; put this one on air first")
          end

          def pull(now, fields)
            Loomshuttle::Edits::Recall.new(scene: Loomshuttle::Patch::DeskSide.over(now, now.patch, desk.state), fields: fields)
          end
        end
      end
    end
  end
end

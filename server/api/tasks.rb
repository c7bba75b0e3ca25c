# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # What the worker is at, wherever it was asked for.
      module Tasks
        def self.registered(app)
          app.get("/api/tasks") { json tasks.list }
          app.get("/api/tasks/:id") { json tasks.find(params["id"].to_i) }
          app.post("/api/tasks/:id/stop") { tasks.stop(params["id"].to_i).then { json ok: true } }
          app.post("/api/tasks/:id/again") { tasks.again(params["id"].to_i).then { json ok: true } }
          app.post("/api/tasks/:id/seen") { json ok: tasks.see(params["id"].to_i) }
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Takes, songs, what is recorded and played, and recordings brought in.
      module Takes
        def self.registered(app)
          capture(app)
          play(app)
          imports(app)
        end

        def self.capture(app)
          app.get("/api/takes") { json context.takes.of_show(context.show_id) }
          app.post("/api/capture/start") { json id: @capture.start }
          app.post("/api/capture/stop") { json ok: @capture.stop }
          app.get("/api/ribbon") { json context.engine.ask(do: "ribbon") }

          app.get "/api/disk" do
            armed = show.tracks.values.count(&:armed)
            free = context.free_bytes
            json free_bytes: free, armed: armed, seconds_left: Capture::DiskBudget.seconds_left(free, armed, show.sample_rate_hz)
          end
        end

        def self.play(app)
          app.post("/api/takes/:id/play") do
            json ok: @play.take(params["id"].to_i, from_frame: given["from_frame"] || 0, repeat: given["repeat"] || false)
          end
          app.post("/api/songs/:id/play") { json ok: @play.song(params["id"]) }
          app.post("/api/playing/stop") { json ok: @play.stop }
        end

        def self.imports(app)
          app.post("/api/imports") { json id: @import.open }
          app.put("/api/imports/:id/files/:name") do
            json @import.add(params["id"], params["name"].dup.force_encoding("UTF-8"), request.body, request.content_length)
          end
          app.get("/api/imports/:id") { json @import.plan(params["id"]) }
          app.post("/api/imports/:id/accept") { json id: @import.accept(params["id"], given["name"].to_s, given["places"]) }
        end
        private_class_method :capture, :play, :imports
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Takes, songs, what is played, and recordings brought in.
      module Takes
        def self.registered(app)
          takes(app)
          play(app)
          imports(app)
        end

        def self.takes(app)
          app.get("/api/takes") { json context.takes.of_show(context.show_id) }
          app.post("/api/takes/:id/amend") { json ok: @capture.amend(params["id"].to_i, given) && true }
          app.post("/api/takes/:id/rename") { json renamed: @capture.rename(params["id"].to_i, given["track"], given["name"].strip) }
          app.post("/api/takes/:id/verify") { json Actions::Verify.new(context).call(params["id"].to_i) }
          app.get("/api/takes/:id/overview") { json Actions::Overview.new(context).call(params["id"].to_i, params["points"]&.to_i || 1000, params["from"]&.to_i, params["to"]&.to_i) }
          app.get("/api/takes/:id/audio") { halt Actions::Listen.new(context).call(params["id"].to_i, params["track"], env["HTTP_RANGE"]) }
          app.post("/api/takes/:id/over") { json @play.overdub(params["id"].to_i) }
        end

        def self.play(app)
          app.post("/api/takes/:id/play") do
            json ok: @play.take(params["id"].to_i, from_frame: given["from_frame"] || 0, repeat: given["repeat"] || false, over_take: given["during_take"])
          end
          app.post("/api/songs/:id/play") { json ok: @play.song(params["id"], over_take: given["during_take"]) }
          app.post("/api/playing/stop") { json ok: @play.stop }
          app.post("/api/playing/locate") { json ok: @play.locate(given["frame"]) }
          app.post("/api/playing/loop") { json ok: @play.loop(given["loop"]) }
        end

        def self.imports(app)
          app.post("/api/imports") { json id: @import.open }
          app.put("/api/imports/:id/files/:name") do
            json @import.add(params["id"], params["name"].dup.force_encoding("UTF-8"), request.body, request.content_length)
          end
          app.get("/api/imports/:id") { json @import.plan(params["id"]) }
          app.post("/api/imports/:id/accept") { json id: @import.accept(params["id"], given["name"].to_s, given["places"]) }
        end
        private_class_method :takes, :play, :imports
      end
    end
  end
end

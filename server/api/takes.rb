# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # A show's takes, and what is played of them.
      module Takes
        def self.registered(app)
          takes(app)
          play(app)
        end

        def self.takes(app)
          app.get("#{SHOW}/takes") do
            json count: takes.count(workspace.id), takes: takes.of_show(workspace.id, from: params["from"].to_i, limit: (params["limit"] || 50).to_i)
          end
          app.post("#{SHOW}/takes/:id/amend") { json ok: @capture.amend(workspace.id, params["id"].to_i, given) && true }
          app.post("#{SHOW}/takes/:id/rename") { json renamed: @capture.rename(workspace.id, params["id"].to_i, given["track"], given["name"].strip) }
          app.post("#{SHOW}/takes/:id/verify") { json @verify.call(workspace.id, params["id"].to_i) }
          app.get("#{SHOW}/takes/:id/overview") { json @overview.call(workspace.id, params["id"].to_i, params["points"]&.to_i || 1000, params["from"]&.to_i, params["to"]&.to_i) }
          app.get("#{SHOW}/takes/:id/audio") { halt @listen.call(workspace.id, params["id"].to_i, params["track"], env["HTTP_RANGE"]) }
          app.post("#{SHOW}/takes/:id/over") { json @play.overdub(workspace.id, params["id"].to_i, tracks: given["tracks"], once: given["once"] || false) }
        end

        def self.play(app)
          app.post("#{SHOW}/takes/:id/play") do
            how = {from_frame: given["from_frame"] || 0, repeat: given["repeat"] || false, onward: given["onward"] || false, over_take: given["during_take"]}
            json ok: @play.take(workspace.id, params["id"].to_i, **how)
          end
          app.get("#{SHOW}/presses") { json presses.list(workspace.id, before: params["before"]&.to_i) }
          app.post("#{SHOW}/songs/:id/play") do
            json ok: pressed("Go") { @play.song(workspace.id, params["id"], onward: given.fetch("onward", false), instead_of: given["instead_of"]) }
          end
          app.get("/api/stage/osc") { json osc_view }
          app.put("/api/stage/osc") do
            stage_osc.keep(Store::StageOsc::Wish.new(**given.transform_keys(&:to_sym)))
            json osc_view
          end
          app.post("/api/playing/stop") { json ok: pressed("Stop") { @play.stop } }
          app.post("/api/playing/pause") { json ok: pressed(given["on"] ? "Pause" : "Go") { @play.pause(given["on"]) && true } }
          app.post("/api/playing/mute") { json ok: @play.mute(given["keys"]) && true }
          app.post("/api/playing/trim") { json ok: @play.trim(given["key"], given["gain_db"]) && true }
          app.post("/api/playing/solo") { json ok: @play.solo(given["key"]) && true }
          app.post("/api/playing/jump") { json ok: pressed(@play.jump_label(given)) { @play.jump(given) } }
          app.post("/api/playing/tempo") { json ok: pressed("#{given["percent"]} % from the section's end") { @play.tempo(given["percent"]) && true } }
          app.post("/api/playing/fade") { json ok: pressed("Fade all, #{given["seconds"]} s") { @play.fade(given["seconds"]) && true } }
          app.post("/api/playing/hush") { json ok: pressed(given["on"] ? "Silence" : "Back in") { @play.hush(given["on"]) && true } }
          app.post("/api/playing/locate") { json ok: given["bar"] ? @play.locate_bar(given["bar"]) : @play.locate(given["frame"]) }
          app.post("/api/playing/loop") { json ok: pressed(given["loop"] ? "Round again" : "Let it go") { @play.loop(given["loop"]) } }
        end

        private_class_method :takes, :play
      end
    end
  end
end

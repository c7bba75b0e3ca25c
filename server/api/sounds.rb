# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Sounds that somebody brought for clicks and cues.
      module Sounds
        def self.registered(app)
          app.get("/api/library/sounds") { json sounds: sounds.list }
          app.post("/api/library/sounds") { json @bring_sound.bring(params["name"], request.body.read) }
          app.delete("/api/library/sounds/:sound") { @bring_sound.take_out(params["sound"]).then { json ok: true } }
        end
      end
    end
  end
end

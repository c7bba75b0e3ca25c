# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # The library of shows: listed, made, put away. Nothing here opens one.
      module Shows
        def self.registered(app)
          making(app)
          keeping(app)
          app.helpers Helpers
        end

        def self.making(app)
          app.get("/api/shows") { json list }
          app.post("/api/shows") { made(@keep_shows.make(given.slice("name", "venue", "date").transform_keys(&:to_sym), template: given["template"], copy: given["copy"])) }
          app.post("/api/shows/file") { made(@keep_shows.read(request.body.read)) }
        end

        def self.keeping(app)
          app.put("#{SHOW}/place") { json ok: @keep_shows.put(params["show"].to_i, given["place"]) && true }
          app.delete(SHOW) { json ok: @keep_shows.delete(params["show"].to_i, params["name"]) && true }
        end
        private_class_method :making, :keeping

        # What only these routes need.
        module Helpers
          def list
            found = shelf.list(place: params["place"] || "at_hand", search: params["search"], from: params["from"].to_i, limit: (params["limit"] || 50).to_i)
            {**found, counts: shelf.counts, on_air: on_air.show_id}
          end

          def made(result) = result.is_a?(Refusal) ? refuse(result) : json(id: result)
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # What all shows share: templates.
      module Library
        def self.registered(app)
          app.get("/api/library/templates") { json templates.list }
          app.delete("/api/library/templates/:id") { json ok: templates.delete(params["id"].to_i) > 0 }
          app.post "#{SHOW}/template" do
            templates.keep(given["name"].strip, Exchange::Template.of(show))
            json templates.list
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # One show as a whole: as it is, as a file, and its looms.
      module OpenShow
        def self.registered(app)
          app.get(SHOW) { json view(workspace.kept) }
          app.get("#{SHOW}/page") { json page(workspace.kept, params["loom"]) }
          app.get("#{SHOW}/looms/:name") { json Screens::Loom.weave(show, Screens::Looms.named(params["name"], show)) }
          app.get("#{SHOW}/trace") do
            json Signal::Trace.public_send((params["back"] == "true") ? :back : :forward, show, params["endpoint"]).to_data
          end
          app.get("#{SHOW}/why") { json Screens::Why.of(show, params["endpoint"]).to_data }
          app.get("#{SHOW}/guide") { json Screens::Guide.of(show) }
          app.get "#{SHOW}/file" do
            attachment "#{Loomshuttle::Capture::FileName.folder(show.name)}.loom.json"
            Exchange::ShowFile.write(show)
          end
        end
      end
    end
  end
end

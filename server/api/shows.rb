# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # The show as a whole: as it is, as a file, from a template, and its looms.
      module Shows
        def self.registered(app)
          app.get("/api/show") { json Views.show(context.kept, context, author) }
          app.get("/api/page") { json page(context.kept, params["loom"]) }
          app.get("/api/looms/:name") { json Screens::Loom.weave(show, Screens::Looms.named(params["name"], show)) }
          app.get("/api/trace") do
            json Signal::Trace.public_send((params["back"] == "true") ? :back : :forward, show, params["endpoint"]).to_data
          end
          app.get("/api/why") { json Screens::Why.of(show, params["endpoint"]).to_data }
          files(app)
          templates(app)
        end

        def self.files(app)
          app.get "/api/show/file" do
            attachment "#{Loomshuttle::Capture::FileName.folder(show.name)}.loom.json"
            Exchange::ShowFile.write(show)
          end

          app.put("/api/show/file") { json version: @edit.replace(context.codec.parse(request.body.read)).version }
        end

        def self.templates(app)
          app.get("/api/templates") { json context.templates.list }
          app.delete("/api/templates/:id") { json ok: context.templates.delete(params["id"].to_i) > 0 }
          app.post("/api/templates/:id/start") do
            json version: @edit.replace(Exchange::Template.start(context.templates.find(params["id"].to_i),
              name: given["name"].strip,
              venue: given["venue"].to_s.strip)).version
          end

          app.post "/api/templates" do
            context.templates.keep(given["name"].strip, Exchange::Template.of(show))
            json context.templates.list
          end
        end
        private_class_method :files, :templates
      end
    end
  end
end

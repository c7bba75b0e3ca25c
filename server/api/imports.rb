# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Recordings brought in from elsewhere: their files in parts, or a folder of this machine.
      module Imports
        def self.registered(app)
          landing(app)
          app.get("#{SHOW}/imports/:id") { json @import.plan(workspace.id, params["id"].to_i, take: params["take"]&.to_i) }
          app.post "#{SHOW}/imports/:id/accept" do
            json task: @import.accept(workspace.id, params["id"].to_i, given["name"].to_s, given["places"], convert: given["convert"] || false)
          end
          app.post("#{SHOW}/imports/:id/offset") { json @import.offset(workspace.id, params["id"].to_i, given["part"], given["like"]) }
          app.delete("#{SHOW}/imports/:id") { @landing.leave(workspace.id, params["id"].to_i).then { json ok: true } }
        end

        def self.landing(app)
          app.get("/api/library/folders") { json folders.list(params["path"]) }
          app.post "#{SHOW}/imports" do
            json id: given["folder"] ? @import.open_folder(workspace.id, given["folder"]) : @import.open(workspace.id, given["files"])
          end
          app.put "#{SHOW}/imports/:id/files/:number" do
            json @landing.part(workspace.id, params["id"].to_i, params["number"].to_i, params["from"].to_i, request.body)
          end
        end
        private_class_method :landing
      end
    end
  end
end

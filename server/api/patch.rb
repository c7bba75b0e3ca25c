# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # The input list as a file, fields as tables, and scenes.
      module Patch
        def self.registered(app)
          app.get "#{SHOW}/rows.csv" do
            content_type "text/csv", charset: "utf-8"
            attachment "#{Loomshuttle::Capture::FileName.folder(show.name)}-inputs.csv"
            Exchange::InputList.write(show)
          end

          app.post "#{SHOW}/rows/read" do
            plan = Exchange::InputList.read(show, request.body.read, replace: params["replace"] == "true")
            json plan.to_h.merge(edit: plan.edit&.to_data)
          end

          app.get("#{SHOW}/scenes") do
            json show.scenes.map { |name, patch| {name: name, checksum: patch.sheet_checksum, now: patch == show.patch} }
          end
          app.get("#{SHOW}/scenes/compare") do
            json changes: Loomshuttle::Compare::Patches.of(show, named_patch(params["from"]), named_patch(params["to"]),
              was: params["from"].to_s.empty? ? "now" : "in #{params["from"]}")
          end
          app.get("#{SHOW}/fields") do
            json Loomshuttle::Patch::Fields.of(show).map { |name| {name: name, label: Loomshuttle::Patch::Fields.label(show, name)} }
          end
          app.get("#{SHOW}/fields/:device/:family") { json Loomshuttle::Screens::FieldTable.of(show, "#{params["device"]}/#{params["family"]}") }
          app.get("#{SHOW}/roles") { json Loomshuttle::Screens::RoleTable.of(show) }
          app.get("#{SHOW}/levels") do
            json Show::SongLevels.of(show, Float(params["target_lufs"])).map { |one| {song: one.song.id, title: one.song.title, loudness_lufs: one.song.loudness_lufs, trim_db: one.trim_db, short_db: one.short_db} }
          end
          app.get("#{SHOW}/mixes") { json Loomshuttle::Screens::SendTable.mixes(show) }
          app.get("#{SHOW}/mixes/:device/:family/:number") do
            json Loomshuttle::Screens::SendTable.of(show, Endpoint.id(*params.values_at("device", "family", "number")))
          end
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          # @param name [String, nil] a scene's name; none for the present patch
          def named_patch(name)
            return show.patch if name.to_s.empty?

            show.scenes[name] or raise BadInput.new(field: "scene", value: name, allowed: show.scenes.keys.join(", "))
          end
        end
      end
    end
  end
end

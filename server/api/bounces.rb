# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # Songs of a show as files for any player.
      module Bounces
        def self.registered(app)
          app.get("#{SHOW}/bounces") { json bounces }
          app.post("#{SHOW}/bounces") do
            raise BadInput.new(field: "songs", value: 0, allowed: "a show with songs in its set list") if show.songs.empty?

            json task: tasks.begin("bounce", "Bouncing #{bounced_words}", show_id: workspace.id, show: workspace.id, songs: given["songs"], one_file: given["one_file"] || false)
          end
          app.get("#{SHOW}/bounces/:song/:file") do
            folder = File.join(bounce_folder, params["song"])
            known = Files::Bounce.record_of(folder)&.fetch("files", {}).to_h
            raise BadInput.new(field: "file", value: params["file"], allowed: known.empty? ? "a song that was bounced" : known.keys.join(", ")) unless known.key?(params["file"])

            send_file Runtime::Inside.path(folder, params["file"]), disposition: "attachment", filename: params["file"], type: "audio/wav"
          end
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          def bounce_folder = Jobs::Bounce.folder(@data_folder, workspace.place)

          # What was bounced of the songs of the set list.
          def bounces
            show.songs.filter_map do |song|
              folder = File.join(bounce_folder, song.id)
              record = Files::Bounce.record_of(folder) or next
              {song: song.id, title: song.title, folder: folder, at: File.mtime(File.join(folder, Files::Bounce::RECORD)).utc.iso8601,
               files: record["files"].map { |name, bytes| {name: name, bytes: bytes} }, clipped: record.fetch("clipped", {}).select { |_, samples| samples.positive? }}
            end
          end

          def bounced_words
            titles = show.songs.select { |song| given["songs"].nil? || given["songs"].include?(song.id) }.map(&:title)
            (titles.size == show.songs.size) ? "the set of #{show.name}" : Loomshuttle::Words::Runs.names(titles, 3)
          end
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # The library's songs and roles.
      module Songs
        SONG = "/api/library/songs/:song"
        private_constant :SONG

        def self.registered(app)
          songs(app)
          making(app)
          app.get("/api/library/roles") { json songs.roles }
          app.put("/api/library/roles/:name") do
            songs.change_role(params["name"], given.slice("hidden", "lanes", "gain_db", "fold_db", "usual").transform_keys(&:to_sym))
            json songs.roles
          end
          app.helpers Helpers
        end

        def self.songs(app)
          app.get("/api/library/songs") { json songs.list(search: params["search"], from: params["from"].to_i, limit: (params["limit"] || 50).to_i) }
          app.get(SONG) { json song(songs.find(params["song"])) }
          app.post("#{SONG}/edits") do
            wish = JSON.parse(JSON.generate(given["song"]), symbolize_names: true)
            changed = songs.change(params["song"], given["version"], author, given["label"] || "Edit", wish)
            speak(changed[:id])
            json song(changed)
          end
          app.post("#{SONG}/cues") { json task: speak(params["song"]) || raise(BadInput.new(field: "cues", value: 0, allowed: "a song with cues that are not spoken yet")) }
          app.get("#{SONG}/overview") { json @song_picture.call(params["song"], (params["points"] || 800).to_i) }
          app.post("/api/library/songs/measured") { json task: measure(given["songs"]) }
          app.post("#{SONG}/tempi") do
            song = songs.summary(params["song"])
            json task: tasks.begin("song_tempo", "Preparing #{song.title} at #{given["percent"]} %", song: song.id, percent: given["percent"])
          end
          app.get("#{SONG}/tempo") { midi(songs.summary(params["song"])) }
          app.get("#{SONG}/tempo/heard") { json @make_song.heard_tempo(params["song"]) }
          app.post("#{SONG}/tempo") { json read_midi(request.body.read) }
          %w[undo redo].each { |word| app.post("#{SONG}/#{word}") { replayed(songs.replay(params["song"], author, word)) } }
        end

        def self.making(app)
          app.post("/api/library/imports") { json id: given["folder"] ? @make_song.open_folder(given["folder"]) : @make_song.open(given["files"]) }
          app.put("/api/library/imports/:id/files/:number") { json @landing.part(nil, params["id"].to_i, params["number"].to_i, params["from"].to_i, request.body) }
          app.get("/api/library/imports/:id") { json @make_song.plan(params["id"].to_i) }
          app.post("/api/library/imports/:id/accept") { json task: @make_song.accept(params["id"].to_i, given) }
          app.delete("/api/library/imports/:id") { @landing.leave(nil, params["id"].to_i).then { json ok: true } }
        end
        private_class_method :songs, :making

        # What only these routes need.
        module Helpers
          def song(found)
            known = songs.summary(found[:id])
            ready = found[:tempi].keys.map { |percent| percent.to_s.to_i }.sort
            found.except(:spoken, :tempi).merge(tempi: ready, markers: in_bars(known, found[:markers]), unspoken: unspoken(known), **songs.labels(found[:id], author))
          end

          # Each at the bar that begins next to it.
          def in_bars(song, markers)
            map = song.map or return []
            markers.map { |marker| JSON.parse(JSON.generate(marker)) }.map do |marker|
              bar, beat, part = map.place(map.quarters(Rational(marker["frame"] - song.bar_1_frame, song.sample_rate_hz)))
              {label: marker["label"], bar: [bar + ((beat - 1 + part >= Rational(map.meter(bar).beats, 2)) ? 1 : 0), 1].max}
            end
          end

          def unspoken(song) = (Show::SpokenCue.phrases(song).keys - song.spoken).size

          # @return [Integer, nil] the task; nil where there is nothing to speak
          def speak(id)
            song = songs.summary(id)
            tasks.begin("song_cues", "Speaking the cues of #{song.title}", song: id) if unspoken(song).positive?
          end

          # @return [Integer] the task
          def measure(ids)
            titles = ids.map { |id| songs.summary(id).title }
            tasks.begin("song_measure", "Measuring #{(titles.size == 1) ? titles.first : "#{titles.size} songs"}", songs: ids)
          end

          def midi(song)
            map = song.map or raise BadInput.new(field: "tempo", value: nil, allowed: "a song that has a tempo")
            content_type "audio/midi"
            attachment "#{Loomshuttle::Capture::FileName.folder(song.title)}.mid"
            Files::MidiMap.write(map)
          end

          # @return [Hash] tempo, markers, bars
          def read_midi(bytes)
            found = Files::MidiMap.read(bytes.b, "MIDI file")
            {tempo: found.map.to_data, bars: found.map.last_bar(found.end_quarters),
             markers: found.markers.map { |quarters, label| {bar: found.map.place(quarters).first, label: label} }}
          end

          def replayed(result) = result.is_a?(Refusal) ? refuse(result) : json(song(result))
        end
      end
    end
  end
end

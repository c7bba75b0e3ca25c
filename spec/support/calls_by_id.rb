# frozen_string_literal: true

require_relative "wav_files"

# A call of every operation of the contract that names something of a show (a track, a row, gear, a song, a take, a
# finding), by the show's own ids. Each is run where `get`, `post` and so on ask below the show (see ids_spec), and
# `track`, `row`, `desk`, `take` and `song` are ids of the show.
module CallsById
  # In the order in which they are made: some leave what a later one needs.
  CALLS = {
    "GET shows/1/trace" => -> { [row, place].each { |id| get "trace?endpoint=#{enc(id)}" } },
    "GET shows/1/why" => -> { [row, place].each { |id| get "why?endpoint=#{enc(id)}" } },
    "GET shows/1/looms/1" => -> { get "looms/#{enc("patch@#{desk}")}" },
    "GET shows/1/page" => -> { get "page?loom=#{enc("patch@#{desk}")}" },
    "GET shows/1/fields/1/1" => -> { get "fields/#{desk}/channel" },
    "GET shows/1/mixes/1/1/1" => -> { get "mixes/#{desk}/main/1" },
    "GET shows/1/paper/1" => -> { file "paper/#{enc(get("paper")["sheets"].last["file"])}" },
    "GET shows/1/rig/cable" => -> {
      get("rig")["cables"].first.then { |cable|
        get "rig/cable?a=#{enc(cable["a"])}&b=#{enc(cable["b"])}"
      }
    },
    "POST shows/1/edits" => lambda {
      change "edits", edit: {kind: "rename", id: track, name: "Renamed"}
      change "edits", edit: {kind: "arm", tracks: [track], armed: true}
      change "edits", edit: {kind: "rename", id: row, name: "Row renamed"}
    },
    "POST shows/1/preview" => -> { post "preview", {edit: {kind: "arm", tracks: [track], armed: false}} },
    "POST shows/1/partings" => -> { change "partings", from: thread["from"], to: thread["to"] },
    "POST shows/1/joins" => -> { change "joins", **(@parted || thread).slice("from", "to").transform_keys(&:to_sym) },
    "POST shows/1/accepted" => -> {
      a_finding.then { |one|
        change "accepted", key: one["key"], digest: one["digest"], reason: "so"
      }
    },
    "POST shows/1/mends" => -> { change "mends", key: a_finding["key"] },
    "POST shows/1/linecheck" => lambda {
      post "linecheck", {do: "start"}
      post "linecheck", {do: "turn", row: row}
      post "linecheck", {do: "again", rows: [row, other_row]}
    },
    "POST shows/1/linecheck/mend" => -> { change "linecheck/mend", refused: /came in elsewhere/, row: row },
    "POST shows/1/linecheck/gain" => -> { post "linecheck/gain", {row: row, by_db: 1} },
    "POST shows/1/controls" => -> { post "controls", {row: row, gain_db: 3} },
    "POST shows/1/simulation" => lambda {
      post "simulation", {do: "quiet", on: true}
      post "simulation", {do: "plant", kind: "swap", row: row, other: other_row}
      post "simulation", {do: "unplant", row: row}
      post "simulation", {do: "tap", row: row}
    },
    "POST shows/1/lineup/tick" => -> { post "lineup/tick", {lane: lane, right: true}, refused: /lane-out/ },
    "POST shows/1/lineup/sound" => -> { post "lineup/sound", {lane: lane, kind: "beeps"}, refused: /lane-out/ },
    "POST playing/stop" => -> { stop_playing },
    "POST shows/1/desk/push" => -> { post "desk/push", {fields: ["#{desk}/channel"]} },
    "POST shows/1/desk/pull" => -> { change "desk/pull", refused: /differs/, fields: ["#{desk}/channel"] },
    "GET shows/1/swing" => -> { get "swing?to=recorder&keep=#{enc("#{desk}/channel/1")}&desk=#{desk}" },
    "POST shows/1/swing" => lambda {
      change "swing", to: "recorder", keep: ["#{desk}/channel/1"], desk: desk
      change "swing", to: "stage", desk: desk
    },
    "POST shows/1/takes/1/amend" => -> { post "takes/#{take}/amend", {name: "A take"} },
    "POST shows/1/takes/1/rename" => -> { post "takes/#{take}/rename", {track: track, name: "In the take"} },
    "POST shows/1/takes/1/verify" => -> { post "takes/#{take}/verify", {} },
    "GET shows/1/takes/1/overview" => lambda {
      tracks = get("takes/#{take}/overview?points=10")["tracks"].map { |one| one["track"] }
      raise "#{tracks} without #{track}" unless tracks.include?(track)
    },
    "GET shows/1/takes/1/audio" => -> { file "takes/#{take}/audio?track=#{enc(track)}" },
    "POST shows/1/takes/1/play" => -> { post "takes/#{take}/play", {repeat: true} },
    "POST playing/mute" => -> { post "/api/playing/mute", {keys: [track]} },
    "POST playing/trim" => -> { post "/api/playing/trim", {key: track, gain_db: -3} },
    "POST playing/solo" => -> { post "/api/playing/solo", {key: track} },
    "POST shows/1/takes/1/over" => lambda {
      stop_playing
      post "takes/#{take}/over", {tracks: [track]}
      post "/api/capture/stop", {}
      stop_playing
    },
    "POST shows/1/imports" => -> {
      @import = post("imports", {files: %w[one two].map { |name|
        {name: "#{name}.wav", bytes: sound.bytesize}
      }})["id"]
    },
    "PUT shows/1/imports/1/files/1" => -> {
      [1, 2].each { |number|
        put "imports/#{@import}/files/#{number}?from=0", sound
      }
    },
    "GET shows/1/imports/1" => -> { get "imports/#{@import}" },
    "POST shows/1/imports/1/offset" => -> {
      post "imports/#{@import}/offset", {part: {file: 1, channel: 1}, like: {file: 2, channel: 1}}
    },
    "POST shows/1/imports/1/accept" => lambda {
      places = [track, other_track].map.with_index(1) { |id, number| {file: number, channel: 1, track: id} }
      ended post("imports/#{@import}/accept", {name: "Somebody's", places: places})["task"]
      tracks = get("takes")["takes"].find { |one| one["name"] == "Somebody's" }["files"].map { |one| one["track"] }
      raise tracks.to_s unless tracks.sort == [track, other_track].sort
    },
    "DELETE shows/1/imports/1" => -> {
      delete "imports/#{post("imports", {files: [{name: "one.wav", bytes: 10}]})["id"]}"
    },
    "POST shows/1/songs/1/play" => lambda {
      post "songs/#{song}/play", {}
      stop_playing
    },
    "POST shows/1/bounces" => -> {
      post("bounces", {songs: [song]}).then { |made|
        ended made["task"] if made["task"]
      }
    },
    "GET shows/1/bounces/1/1" => -> { file "bounces/#{song}/none.wav", refused: /none\.wav/ },
    "GET library/songs/1" => -> { @song = get "/api/library/songs/#{song}" },
    "POST library/songs/1/edits" => -> {
      post "/api/library/songs/#{song}/edits", {version: @song["version"], label: "Faster", song: {bpm: 101}}
    },
    "POST library/songs/1/undo" => -> { post "/api/library/songs/#{song}/undo", {} },
    "POST library/songs/1/redo" => -> { post "/api/library/songs/#{song}/redo", {} },
    "POST library/songs/1/cues" => -> { post "/api/library/songs/#{song}/cues", {}, refused: /not spoken yet/ },
    "POST library/songs/measured" => -> { post "/api/library/songs/measured", {songs: [song]} },
    "GET library/songs/1/overview" => -> { get "/api/library/songs/#{song}/overview?points=10" },
    "POST library/songs/1/tempi" => -> { post "/api/library/songs/#{song}/tempi", {percent: 90} },
    "GET library/songs/1/tempo" => -> { file "/api/library/songs/#{song}/tempo" },
    "POST library/songs/1/tempo" => -> {
      put "/api/library/songs/#{song}/tempo", file("/api/library/songs/#{song}/tempo"), method: "post",
        type: "audio/midi"
    },
    "GET library/songs/1/tempo/heard" => -> { get "/api/library/songs/#{song}/tempo/heard", refused: /role is click/ },
    "DELETE shows/1" => -> { delete "?name=#{enc(show["name"])}", refused: /in the bin/ }
  }.freeze

  # Operations that name nothing of a show.
  NAMELESS = ["GET shows", "POST shows", "POST shows/file", "GET shows/1", "PUT shows/1/place", "GET shows/1/on-air", "POST shows/1/on-air",
    "DELETE shows/1/on-air", "GET desk", "PUT desk", "GET desk/search", "GET shows/1/guide", "GET shows/1/file",
    "POST shows/1/template", "GET shows/1/rig", "POST shows/1/undo", "POST shows/1/redo", "GET shows/1/takes",
    "POST shows/1/capture/start", "POST capture/mark", "POST capture/reset", "GET shows/1/session",
    "PUT shows/1/session", "GET places", "GET devices", "PUT device", "POST shows/1/device/terms",
    "POST shows/1/round-trip", "GET shows/1/linecheck", "GET shows/1/soundcheck", "POST shows/1/soundcheck",
    "POST shows/1/soundcheck/ping", "POST shows/1/soundcheck/open", "POST shows/1/soundcheck/mend",
    "POST shows/1/soundcheck/lay", "GET shows/1/controls", "GET shows/1/simulation", "GET alarms", "POST alarms/seen",
    "POST playing/pause", "POST playing/jump", "GET stage/osc", "PUT stage/osc", "POST playing/tempo",
    "POST playing/fade", "POST playing/hush", "GET shows/1/presses", "POST playing/locate", "POST playing/loop",
    "POST capture/stop", "GET ribbon", "GET shows/1/disk", "GET shows/1/desk", "GET shows/1/history",
    "GET shows/1/rig/rate", "GET shows/1/profiles/1", "GET shows/1/rows.csv", "POST shows/1/rows/read",
    "GET shows/1/scenes", "GET shows/1/scenes/compare", "GET shows/1/lineup", "GET shows/1/bounces",
    "GET shows/1/levels", "GET shows/1/roles", "GET shows/1/fields", "GET shows/1/mixes", "GET shows/1/paper",
    "GET shows/1/paper.pdf", "GET library/templates", "DELETE library/templates/1", "GET library/roles",
    "PUT library/roles/1", "GET library/songs", "GET library/sounds", "POST library/sounds",
    "DELETE library/sounds/1", "POST library/imports", "GET library/imports/1", "DELETE library/imports/1",
    "PUT library/imports/1/files/1", "POST library/imports/1/accept", "GET library/folders", "GET door", "POST door",
    "GET door/way", "PUT door/way", "GET door/way/1/1.svg", "POST door/codes", "GET door/devices",
    "PUT door/devices/1", "DELETE door/devices/1", "GET tasks", "GET tasks/1", "POST tasks/1/stop",
    "POST tasks/1/again", "POST tasks/1/seen", "GET events"].freeze
end

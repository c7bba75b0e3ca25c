# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "support/wav_files"
require_relative "../../boot/server"

# The real server with its database, engine and stand-in, over HTTP.
RSpec::Matchers.define_negated_matcher :not_include, :include

RSpec.describe "The server" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    @installation.wait("engine and desk") do
      @installation.api("get", "/api/ribbon").first == 200 && @installation.engine(do: "status").dig("device", "state") == "running"
    end
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  def get(path) = @installation.api("get", path)
  def post(path, body = {}) = @installation.api("post", path, body)
  def version = get("/api/show").last["version"]
  def edit_show(during_take: false, **edit) = post("/api/edits", {version: version, edit: edit, during_take: during_take})

  it "applies an edit, undoes it and does it again, and the desk follows each time" do
    slot = ->(loom) { loom["strands"].find { |strand| strand["to"] == "rec/track/13" } }
    expect(post("/api/joins", {version: version, from: "desk/card-send/13", to: "rec/track/13"}).first).to eq(200)
    expect(slot.call(get("/api/looms/patch").last)).not_to be_nil
    expect(post("/api/undo", {version: version}).first).to eq(200)
    expect(slot.call(get("/api/looms/patch").last)).to be_nil
    expect(post("/api/redo", {version: version}).first).to eq(200)
    expect(post("/api/undo", {version: version}).first).to eq(200)
    @installation.wait("the desk") { get("/api/desk").last["count"] == 0 }
  end

  # Somebody else, at another browser.
  def ilse(path, body) = @installation.api("post", path, {version: version, **body}, "x-client" => "tablet", "x-who" => "Ilse")

  it "tells who comes second at one cell who was first, and writes nothing; another cell of that row is another place" do
    seen = version
    ilse("/api/edits", {label: "Source of Fiddle", edit: {kind: "rows", rows: {"list/row/2" => {name: "Fiddle B"}}}})
    status, answer = post("/api/edits", {version: seen, edit: {kind: "rows", rows: {"list/row/2" => {name: "Fiddle A"}}}})
    expect([status,
      answer["error"]]).to match([409, include("field" => "meanwhile", "message" => "The same was changed meanwhile: \"Source of Fiddle\" by Ilse. Yours is not written yet.")])
    expect(post("/api/edits", {version: seen, edit: {kind: "rows", rows: {"list/row/2" => {mic: "clip"}}}}).first).to eq(200)
    expect(get("/api/show").last["rows"][1]).to include("name" => "Fiddle B", "mic" => "clip")
    expect(post("/api/edits", {version: version, edit: {kind: "rows", rows: {"list/row/2" => {name: "Fiddle A"}}}}).first).to eq(200)
    2.times { post("/api/undo", {version: version}) }
    ilse("/api/undo", {})
  end

  it "makes an edit for an older version as long as nobody changed the same; one's own edits count as seen" do
    seen = version
    ilse("/api/edits", {edit: {kind: "rename", id: "rec/track/1", name: "Hurdy"}})
    expect(post("/api/edits", {version: seen, edit: {kind: "rename", id: "rec/track/2", name: "Late"}}).first).to eq(200)
    expect(post("/api/edits", {version: seen, edit: {kind: "rename", id: "rec/track/2", name: "Later"}}).first).to eq(200)
    expect(get("/api/show").last["tracks"].first(2).map { |track| track["name"] }).to eq(%w[Hurdy Later])
    expect(post("/api/undo", {version: seen}).first).to eq(200)
    post("/api/undo", {version: seen})
    ilse("/api/undo", {})
    expect(post("/api/edits", {version: version + 5, edit: {kind: "rename", id: "rec/track/2", name: "x"}}).first).to eq(409)
  end

  it "swings only what was looked at, whatever somebody else changed" do
    seen = version
    ilse("/api/edits", {label: "Name of track 1", edit: {kind: "rename", id: "rec/track/1", name: "Hurdy"}})
    status, answer = post("/api/swing", {version: seen, to: "recorder"})
    expect([status, answer["error"]["message"]]).to eq([409, "In between came \"Name of track 1\" by Ilse. Nothing of yours was changed; look again and repeat it."])
    ilse("/api/undo", {})
    expect(@installation.api("get", "/api/history", nil, "x-client" => "tablet").last.first).to include("label" => "Name of track 1", "undone" => true)
  end

  describe "bad input" do
    {
      ["/api/edits", {version: 1}] => [400, /missing required properties: edit/],
      ["/api/edits", "{nonsense"] => [400, /JSON/],
      ["/api/edits", {version: "one", edit: {kind: "clear"}}] => [400, /version.*integer/],
      ["/api/joins", {version: 1, from: "x", to: "desk/channel/1"}] => [400, /from/],
      ["/api/undo", {version: 1, more: 2}] => [400, /more/],
      ["/api/takes/seven/play", {}] => [400, /integer/],
      ["/api/undo", "{\"version\": 1, \"x\": \"#{"y" * 17_000_000}\"}"] => [413, /at most 16777216 bytes/],
      ["/api/nowhere", {}] => [404, /./]
    }.each do |(path, body), (status, message)|
      it "is refused: #{path} #{body.to_s[0, 60]}" do
        code, answer = post(path, body)
        expect([code, answer["error"]["message"]]).to match([status, message])
      end
    end

    it "says which value an edit may have" do
      status, answer = edit_show(kind: "connect", slot: "desk/channel/1", from: "desk/mic/3")
      expect([status, answer["error"]]).to match([422, include("field" => "from", "value" => "desk/mic/3", "message" => /out of line/)])
      expect(edit_show(kind: "melt").last["error"]["message"]).to include("one of about, arm, cable, clear, connect")
      expect(edit_show(kind: "group",
        edits: [{kind: "put", parts: {"about" => {"name" => ""}}}]).last["error"]["message"]).to include("edit.edits/0.kind: \"put\" is not usable; one of about")
      expect(edit_show(kind: "shift", slots: ["nowhere"], by: 1).first).to eq(422)
      expect(edit_show(kind: "rows", rows: [1]).first).to eq(422)
      expect(edit_show(kind: "device", id: "x", profile: 7).first).to eq(422)
    end

    it "knows no other take, song, loom or place" do
      expect([post("/api/takes/99/play"),
        post("/api/songs/none/play"),
        get("/api/looms/warp"),
        get("/api/trace?endpoint=desk/channel/99")].map(&:first)).to eq([422, 422, 422, 422])
    end
  end

  it "answers an edit with the show and the loom as they are then" do
    answer = post("/api/edits", {version: version, loom: "patch", edit: {kind: "plug", row: "list/row/1", socket: "desk/mic/20"}}).last
    expect(answer["show"]).to include("version" => answer["version"], "undo" => "Edit")
    expect(answer["loom"]["strands"]).to include(include("from" => "list/row/1", "to" => "desk/mic/20"))
    expect(post("/api/undo", {version: version, loom: "warp"}).first).to eq(422)
    expect(get("/api/show").last["rows"].first["socket"]).to eq("box-a/mic/1").or eq("desk/mic/20")
    post("/api/undo", {version: version}) if get("/api/show").last["rows"].first["socket"] == "desk/mic/20"
  end

  it "previews without changing anything" do
    before = version
    preview = post("/api/preview", {edit: {kind: "shift", slots: (1..8).map { |n| "desk/channel/#{n}" }, by: 16}}).last
    expect([preview["changes"].sum { |change| change["places"].size }, version]).to eq([16, before])
    expect(post("/api/preview", {edit: {kind: "shift", slots: ["desk/channel/1"], by: 1}}).last["error"]["message"]).to include("patched as one block")
    expect(post("/api/preview", {}).first).to eq(400)
  end

  it "tells what a cable and another rate would do" do
    expect(get("/api/rig/cable?a=box-a/chain&b=desk/aes50-b").last).to include("fits" => true, "sentence" => start_with("AES50, 48 lanes each way"))
    expect(get("/api/rig/cable?a=box-a/chain&b=rec/interface").last).to include("fits" => false, "sentence" => end_with("no cable joins them."))
    expect(get("/api/rig/rate?rate_hz=96000").last["links"].map { |link| link["lanes_then"] }).to eq([24, 16])
    expect(get("/api/rig/rate?rate_hz=12345").first).to eq(400)
    expect(get("/api/profiles/none").last["error"]["message"]).to include("desk-32")
  end

  it "reads an input list without changing it, and refuses what is no table" do
    read = ->(text) {
      Net::HTTP.post(URI("#{@installation.address}/api/rows/read"), text, "content-type" => "text/csv").then do |answer|
        [answer.code, JSON.parse(answer.body)]
      end
    }
    expect(read["number,name\n1,New name\n".b].last["changes"]).to eq(["rows: list/row/1: name is \"New name\", before: \"Hurdy-gurdy\""]).or(be_a(Array))
    expect(read["lamp,oil\n"].then { |code, answer| [code, answer["error"]["message"]] }).to match(["422", /a first line with headings/])
    expect(Net::HTTP.get(URI("#{@installation.address}/api/rows.csv")).lines.size).to eq(13)
  end

  it "gives each browser its own undo" do
    mine, theirs = %w[browser-a browser-b]
    as = ->(client, path, body) {
      Net::HTTP.post(URI("#{@installation.address}#{path}"),
        JSON.generate(body),
        "content-type" => "application/json",
        "x-client" => client,
        "x-who" => "Mara%20%C3%A9").then do |answer|
        [answer.code.to_i, JSON.parse(answer.body)]
      end
    }
    as[mine, "/api/edits", {version: version, edit: {kind: "rename", id: "desk/bus/9", name: "One"}}]
    as[theirs, "/api/edits", {version: version, edit: {kind: "rename", id: "desk/bus/10", name: "Two"}}]
    expect(as[mine, "/api/undo", {version: version}].first).to eq(200)
    expect(get("/api/show/file").last["names"]).to include("desk/bus/10" => "Two").and(not_include("desk/bus/9" => "One"))
    as[mine, "/api/redo", {version: version}]
    as[theirs, "/api/edits", {version: version, edit: {kind: "rename", id: "desk/bus/9", name: "Other"}}]
    expect(as[mine, "/api/undo", {version: version}].last["error"]["message"]).to include("Mara \u00e9 changed the same place since")
    expect(get("/api/history").last.first).to include("who" => "Mara \u00e9", "mine" => false, "undone" => false)
    2.times { as[theirs, "/api/undo", {version: version}] }
    expect(as[mine, "/api/undo", {version: version}].first).to eq(200)
  end

  it "refuses a show file that is cut short, or has a thousand faults, with the first of them by their place" do
    whole = JSON.parse(Net::HTTP.get(URI("#{@installation.address}/api/show/file")))
    before = version
    cut = @installation.api("put", "/api/show/file", JSON.generate(whole)[0..-200])
    faulty = @installation.api("put",
      "/api/show/file",
      JSON.generate(whole.merge("rows" => Array.new(1000) { |n| {"id" => "list/row/#{n + 1}", "name" => ""} })))
    expect([cut.first, faulty.first, faulty.last["error"]["message"]]).to match([400, 422, %r{/rows/0/name.*/rows/1/name}])
    expect(version).to eq(before)
  end

  it "does all of a group or nothing when the server is killed in the middle of edits" do
    names = ->(n) { {version: version, edit: {kind: "group", edits: (1..12).map { |row| {kind: "rename", id: "list/row/#{row}", name: "Pass #{n}"} }}} }
    sender = Thread.new {
      begin
        (1..200).each { |n| post("/api/edits", names[n]) }
      rescue
        nil
      end
    }
    @installation.wait("some edits") { get("/api/show").last["rows"].first["name"].start_with?("Pass") }
    @installation.kill("server")
    sender.join
    @installation.start("server")
    expect(get("/api/show").last["rows"].map { |row| row["name"] }.uniq.size).to eq(1)
    @installation.api("put", "/api/show/file", File.read(File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json")))
  end

  describe "fields and mixes" do
    it "are read slot by slot and line by line, and refused where there are none" do
      slot = get("/api/fields/desk/output").last["slots"].first
      expect(slot).to include("takes" => "main 1", "arrives" => "Main L (main 1)", "tap" => "post-fader")
      expect(get("/api/mixes").last).to include("name" => "desk/bus/1", "label" => "Booth wedge (bus 1)")
      expect(get("/api/mixes/desk/bus/1").last["lines"].first).to include("carries" => "Hurdy-gurdy", "level_db" => -12.0)
      expect(get("/api/fields/desk/toaster")).to match([422, include("error" => include("message" => include("desk/toaster")))])
      expect(get("/api/mixes/desk/channel/1").first).to eq(422)
      expect(get("/api/mixes/desk/bus/none").first).to eq(400)
    end

    it "are written as one edit that the desk follows" do
      status, answer = edit_show(kind: "lay", takes: {"desk/output/5" => {from: "desk/bus/9", delay_ms: 3.5}, "desk/output/6" => {from: "desk/bus/10"}})
      expect([status, answer["show"]["undo"]]).to eq([200, "Edit"])
      @installation.wait("the desk") { get("/api/desk").last["count"] == 0 }
      expect(get("/api/fields/desk/output").last["slots"][4]).to include("takes" => "bus 9", "delay_ms" => 3.5)
      post("/api/undo", {version: version})
      expect(get("/api/fields/desk/output").last["slots"].values_at(4, 5).map { |slot| slot["takes"] }).to eq(["", ""])
    end
  end

  describe "taking off" do
    it "parts two places or frees one, and undoes it" do
      expect(post("/api/partings", {version: version, from: "list/row/1", to: "box-a/mic/1"}).first).to eq(200)
      expect(get("/api/show").last["rows"].first["socket"]).to be_nil
      post("/api/undo", {version: version})
      expect(post("/api/partings", {version: version, from: "desk/output/1"}).first).to eq(200)
      post("/api/undo", {version: version})
      expect(get("/api/show").last["rows"].first["socket"]).to eq("box-a/mic/1")
    end

    it "says what cannot be taken off" do
      expect(post("/api/partings", {version: version, from: "desk/bus/16", to: "desk/channel/1"}).last["error"]["message"]).to eq("Nothing is laid between bus 16 and channel 1.")
      expect(post("/api/partings", {version: version, from: "nonsense"}).first).to eq(400)
    end
  end

  describe "another desk" do
    def device = @installation.engine(do: "status")["device"]

    def wait_for(lanes, rate_hz)
      @installation.wait("the desk with #{lanes} lanes at #{rate_hz} Hz") do
        device.values_at("state", "lanes", "rate_hz") == ["running", lanes, rate_hz]
      end
    end

    it "takes the place of the simulated one, follows the patch and records" do
      rack = hall("rack-20")
      @installation.api("put", "/api/show/file", Loomshuttle::Exchange::ShowFile.write(rack))
      wait_for(22, 48_000)
      @installation.wait("the patch") { get("/api/desk").last.values_at("count", "fault") == [0, nil] }
      id = post("/api/capture/start").last["id"]
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 12_000 }
      post("/api/capture/stop")
      take = @installation.wait("the take") { get("/api/takes").last.find { |one| one["id"] == id && one["state"] == "closed" } }
      expect(take["files"].map { |file| file["name"] }).to eq((1..8).map { |n| "Source #{n}" })
    ensure
      @installation.api("put", "/api/show/file", File.read(File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json")))
      wait_for(32, 48_000)
    end

    it "or another rate waits until a running take is over" do
      post("/api/capture/start")
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 4_800 }
      edit_show(kind: "show_rate", rate_hz: 44_100, during_take: true)
      @installation.wait("word of it") { get("/api/desk").last["fault"].to_s.include?("waits until the take is over") }
      edit_show(kind: "power", sockets: ["box-a/mic/4"])
      frames = @installation.engine(do: "status").dig("recording", "frames")
      @installation.wait("more frames") { @installation.engine(do: "status").dig("recording", "frames") > frames + 12_000 }
      expect(post("/api/capture/stop").last["ok"]["lost_blocks"]).to eq(0)
      wait_for(32, 44_100)
      @installation.wait("what was edited meanwhile") { get("/api/desk").last["count"] == 0 }
      2.times { post("/api/undo", {version: version}) }
      wait_for(32, 48_000)
      expect(get("/api/desk").last["fault"]).to be_nil
    end
  end

  describe "a server that is started anew" do
    def device = @installation.engine(do: "status")["device"]

    def restart
      @installation.kill("server")
      yield if block_given?
    ensure
      @installation.start("server")
    end

    it "sets the stage up where other gear stands there than planned" do
      restart do
        Loomshuttle::Server::Links::DeskLink.new(port: @installation.services.ports["osc"]).stage(hall("rack-20"))
        @installation.wait("the rack") { device.values_at("state", "lanes") == ["running", 22] }
      end
      @installation.wait("the planned desk") { device.values_at("state", "lanes") == ["running", 32] }
      @installation.wait("its patch") { get("/api/desk").last["count"] == 0 }
    end

    it "still waits for the end of a running take with another rate, and then follows" do
      post("/api/capture/start")
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 4_800 }
      edit_show(kind: "show_rate", rate_hz: 44_100, during_take: true)
      @installation.wait("word of it") { get("/api/desk").last["fault"].to_s.include?("waits until the take is over") }
      restart
      edit_show(kind: "power", sockets: ["box-a/mic/4"])
      frames = @installation.engine(do: "status").dig("recording", "frames")
      @installation.wait("more frames") { @installation.engine(do: "status").dig("recording", "frames") > frames + 48_000 }
      expect(post("/api/capture/stop").last["ok"]["lost_blocks"]).to eq(0)
      @installation.wait("the other rate") { device.values_at("state", "rate_hz") == ["running", 44_100] }
      2.times { post("/api/undo", {version: version}) }
      @installation.wait("the rate of before") { device.values_at("state", "rate_hz") == ["running", 48_000] }
    end
  end

  it "exports the show and takes it in again" do
    file = Net::HTTP.get(URI("#{@installation.address}/api/show/file"))
    expect(@installation.api("put", "/api/show/file", file).first).to eq(200)
    status, answer = @installation.api("put", "/api/show/file", JSON.generate(JSON.parse(file).merge("version" => 7)))
    expect([status, answer["error"]["message"]]).to match([422, /a newer one wrote this file/])
  end

  it "serves pages and nothing outside its own folder" do
    fetch = ->(path) { Net::HTTP.start("127.0.0.1", @installation.services.ports["http"]) { |http| http.get(path) } }
    page = fetch["/patch"].body
    expect([page, fetch["/"].body]).to all(include("<title>Loomshuttle</title>"))
    expect(%w[/server.log /assets/none.js /assets/Gemfile].map { |path| fetch[path].code }).to eq(%w[404 404 404])
    # What climbs out of the folder gets the page, as any other path does.
    expect(["/assets/../../../etc/passwd", "/../Gemfile"].map { |path| fetch[path].body }.uniq).to eq([page])
    expect(Net::HTTP.get_response(URI("#{@installation.address}/patch"))["content-security-policy"]).to include("default-src 'self'")
  end

  it "refuses to answer under a stranger's name" do
    answer = Net::HTTP.start("127.0.0.1", @installation.services.ports["http"]) { |http| http.get("/api/show", {"host" => "evil.test"}) }
    expect(answer.code).to eq("403")
  end

  describe "capture" do
    it "makes a take that the database, the journal and the files agree on" do
      id = post("/api/capture/start").last["id"]
      expect(post("/api/capture/start").last["error"]["message"]).to include("stop the running take first")
      @installation.wait("a second") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 48_000 }
      post("/api/capture/stop")
      take = @installation.wait("the take") { get("/api/takes").last.find { |one| one["id"] == id && one["state"] == "closed" } }
      journal = Loomshuttle::Capture::TakeLog.read(File.read(File.join(@folder, "takes", take["folder"], "take.journal")))
      frames = Dir[File.join(@folder, "takes", take["folder"], "*.wav")].map { |path|
        File.open(path, "rb") do |io|
          Loomshuttle::Audio::Wav::Reader.new(io).frames
        end
      }
      # Twelve sources, two of them pairs, which are one file each.
      expect([frames.size, frames.uniq, journal.frames]).to eq([10, [take["frames"]], take["frames"]])
      expect(take["files"].map { |file| file["track"] }.uniq.size).to eq(12)
      expect(journal.time_reference_samples).to be_between(0, 86_400 * 48_000)
    end

    it "says when nothing is armed" do
      all = get("/api/show").last["tracks"].map { |track| track["id"] }
      edit_show(kind: "arm", tracks: all, armed: false)
      expect(post("/api/capture/start").last["error"]["message"]).to include("arm at least one track that has a lane")
      post("/api/undo", {version: version})
    end

    it "goes on recording when the server is killed" do
      post("/api/capture/start")
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 24_000 }
      @installation.kill("server")
      frames = @installation.engine(do: "status").dig("recording", "frames")
      @installation.wait("more frames") { @installation.engine(do: "status").dig("recording", "frames") > frames + 24_000 }
      @installation.start("server")
      expect(post("/api/capture/stop").last["ok"]["lost_blocks"]).to eq(0)
      @installation.wait("the take") { get("/api/takes").last.first["state"] == "closed" }
    end
  end

  describe "bringing in a recording" do
    def bring(files)
      id = post("/api/imports").last["id"]
      answers = files.map { |name, bytes|
        @installation.api("put",
          "/api/imports/#{id}/files/#{URI.encode_www_form_component(name).gsub("+", "%20")}",
          bytes.b)
      }
      [id, answers]
    end

    it "copies, checks, matches by name, and lets the rest be settled by hand" do
      id, answers = bring("01 Hurdy gurdy.wav" => WavFiles.pcm16([1, 2, 3]),
        "cimbalom.wav" => WavFiles.pcm16([1, 2, 3, 4], channels: 2),
        "mystery.wav" => WavFiles.pcm16([5, 6]))
      expect(answers.map(&:first)).to eq([200, 200, 200])
      plan = get("/api/imports/#{id}").last
      expect(plan["matched"].map { |place| place["track"] }).to match_array(%w[rec/track/1 rec/track/2 rec/track/3])
      expect(plan["loose"]).to eq([{"file" => "mystery.wav", "channel" => 1}])
      status, answer = post("/api/imports/#{id}/accept", {name: "From elsewhere", places: plan["matched"] + [{file: "mystery.wav", channel: 1, track: "rec/track/12"}]})
      take = get("/api/takes").last.find { |one| one["id"] == answer["id"] }
      expect([status, take["origin"], take["frames"], take["files"].size]).to eq([200, "imported", 3, 4])
      expect(File.binread(File.join(@folder, "takes", take["folder"], "mystery.wav"))).to eq(WavFiles.pcm16([5, 6]))
    end

    it "refuses what is no WAV and what is empty, and keeps nothing of it" do
      id, answers = bring("notes.wav" => "hello there", "empty.wav" => WavFiles.pcm16([]))
      expect(answers.map(&:first)).to all(be >= 400)
      expect(answers.first.last["error"]["message"]).to match(/notes.wav.*begins with RIFF/)
      expect(get("/api/imports/#{id}").last["files"]).to eq([])
      expect(post("/api/imports/#{id}/accept", {places: []}).last["error"]["message"]).to include("at least one file")
    end

    it "gives names that are long, odd or taken a safe form, and does not lose them" do
      long = "#{"é" * 300}.wav"
      id, answers = bring([["kick.wav", WavFiles.pcm16([1])],
        ["kick.wav", WavFiles.pcm16([1, 2])],
        [long, WavFiles.pcm16([1])],
        ["..sneaky 🎻.wav", WavFiles.pcm16([1])]])
      expect(answers.map { |status, file| [status, file["file"]] }).to match([[200, "kick.wav"], [200, "kick (2).wav"], [200, be_a(String)], [200, "sneaky 🎻.wav"]])
      plan = get("/api/imports/#{id}").last
      expect(plan["files"].map { |file| file["title"] }).to include("kick.wav", long, "..sneaky 🎻.wav")
      post("/api/imports/#{id}/accept", {name: "Odd names", places: [{file: answers[2].last["file"], channel: 1, track: "rec/track/4"}]})
      expect(get("/api/takes").last.first["files"].first["name"]).to eq(long)
    end

    it "refuses another sample rate and two files on one track" do
      id, = bring("kick.wav" => WavFiles.pcm16([1, 2], rate: 44_100), "a.wav" => WavFiles.pcm16([1]), "b.wav" => WavFiles.pcm16([1]))
      expect(post("/api/imports/#{id}/accept", {places: [{file: "kick.wav", channel: 1, track: "rec/track/5"}]}).last["error"]["message"]).to include("44100 Hz")
      twice = %w[a.wav b.wav].map { |file| {file: file, channel: 1, track: "rec/track/5"} }
      expect(post("/api/imports/#{id}/accept", {places: twice}).last["error"]["message"]).to include("one file channel a track")
    end
  end
end

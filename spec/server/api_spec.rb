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
    @begun = show_file
  end

  # Each example begins with the same show, whatever another left in it: they run in any order.
  before { @installation.perform(lanterns) unless show_file == @begun }

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  def get(path) = @installation.api("get", path)
  def post(path, body = {}) = @installation.api("post", path, body)
  def lanterns = File.read(File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json"))
  def show_file = get("#{@installation.show}/file").last
  def version = get(@installation.show).last["version"]
  def edit_show(during_take: false, **edit) = post("#{@installation.show}/edits", {version: version, edit: edit, during_take: during_take})

  it "applies an edit, undoes it and does it again, and the desk follows each time" do
    slot = ->(loom) { loom["strands"].find { |strand| strand["to"] == "rec/track/13" } }
    expect(post("#{@installation.show}/joins", {version: version, from: "desk/card-send/13", to: "rec/track/13"}).first).to eq(200)
    expect(slot.call(get("#{@installation.show}/looms/patch").last)).not_to be_nil
    expect(post("#{@installation.show}/undo", {version: version}).first).to eq(200)
    expect(slot.call(get("#{@installation.show}/looms/patch").last)).to be_nil
    expect(post("#{@installation.show}/redo", {version: version}).first).to eq(200)
    expect(post("#{@installation.show}/undo", {version: version}).first).to eq(200)
    @installation.wait("the desk") { get("#{@installation.show}/desk").last["count"] == 0 }
  end

  it "tells who asked what is refused, and does not fill the disk with it" do
    log = File.join(@folder, "server.log")
    before = File.size(log)
    told = [post("/api/takes/stop"), edit_show(kind: "rows", rows: {"list/row/1" => {name: "x" * 900}}), get("/api/shows/9999"),
      post("/api/playing/locate", {frame: 1})].map(&:first)
    expect([told, File.size(log)]).to match([all(be_between(400, 499)), before])
  end

  # NUL, what is no UTF-8, and a sign that is cut off: in every part of an address, on pages too.
  it "refuses an address that is no text, wherever it is looked into" do
    paths = %w[/api/shows/1/looms/%s /api/library/songs/%s /api/library/folders?path=%s /api/shows/1/why?endpoint=%s /api/shows/1/paper/%s /api/shows/1/scenes/compare?from=%s
      /assets/%s /guide/%s /icons/%s /%s]
    answers = paths.product(%w[%00 %ff a%00b]).map { |path, bad| Net::HTTP.get_response(URI("#{@installation.address}#{path.sub("%s", bad)}")).code.to_i }
    answers << post("#{@installation.show}/songs/a%00/play").first
    expect(answers.uniq).to eq([400])
    expect(Net::HTTP.new("127.0.0.1", URI(@installation.address).port).get("/api/library/folders?path=%zz").code).to eq("400")
  end

  # Every question of the contract that is about one show, and a word that would be kept beside it.
  it "lists nothing of a show that is not there, and keeps nothing" do
    paths = YAML.safe_load_file(File.join(Loomshuttle::ROOT, "api/openapi.yaml"))["paths"].select { |path, all| path.start_with?("/api/shows/{show}") && all.key?("get") }.keys
    answers = paths.to_h { |path| [path, Net::HTTP.get_response(URI("#{@installation.address}#{path.sub("{show}", "4711").gsub(/\{\w+\}/, "1")}")).code.to_i] }
    expect(answers.reject { |_, code| [400, 422].include?(code) }).to eq({})
    expect(@installation.api("put", "/api/shows/4711/session", {preroll_s: 5}).then { |code, body| [code, body.dig("error", "field")] }).to eq([422, "show"])
  end

  # Nothing is called by an integer that no page can tell from the next (RFC 8259, section 6); the database has no room for some.
  it "refuses an integer that is too large wherever one stands in an address" do
    answers = %w[shows/%s shows/1/takes/%s/overview shows/1/imports/%s library/imports/%s tasks/%s shows/1/history?from=%s library/songs?from=%s shows/1/presses?before=%s]
      .product([2**53, 2**63, 10**25]).map { |path, number| get("/api/#{path.sub("%s", number.to_s)}").first }
    expect(answers.uniq).to eq([400])
  end

  it "takes any bytes for the name of who edits" do
    body = ->(name) { {version: version, edit: {kind: "rows", rows: {"list/row/1" => {name: name}}}} }
    names = {"Il\xFFse".b => "A", "%00Il%FFse" => "B", "Jos%C3%A9" => "C"}
    told = names.map { |who, name| @installation.api("post", "#{@installation.show}/edits", body.call(name), "x-who" => who, "x-client" => "\xFF\x00".b.delete("\0")).first }
    expect(told).to eq([200, 200, 200])
    expect(get("#{@installation.show}/history").last.to_s).to include("Il?se", "José")
  end

  # Somebody else, at another browser.
  def ilse(path, body) = @installation.api("post", path, {version: version, **body}, "x-client" => "tablet", "x-who" => "Ilse")

  it "tells who comes second at one cell who was first, and writes nothing; another cell of that row is another place" do
    seen = version
    ilse("#{@installation.show}/edits", {label: "Source of Fiddle", edit: {kind: "rows", rows: {"list/row/2" => {name: "Fiddle B"}}}})
    status, answer = post("#{@installation.show}/edits", {version: seen, edit: {kind: "rows", rows: {"list/row/2" => {name: "Fiddle A"}}}})
    expect([status,
      answer["error"]]).to match([409, include("field" => "meanwhile", "message" => "The same was changed meanwhile: \"Source of Fiddle\" by Ilse. Yours is not written yet.")])
    expect(post("#{@installation.show}/edits", {version: seen, edit: {kind: "rows", rows: {"list/row/2" => {mic: "clip"}}}}).first).to eq(200)
    expect(get(@installation.show).last["rows"][1]).to include("name" => "Fiddle B", "mic" => "clip")
    expect(post("#{@installation.show}/edits", {version: version, edit: {kind: "rows", rows: {"list/row/2" => {name: "Fiddle A"}}}}).first).to eq(200)
    2.times { post("#{@installation.show}/undo", {version: version}) }
    ilse("#{@installation.show}/undo", {})
  end

  it "makes an edit for an older version as long as nobody changed the same; one's own edits count as seen" do
    seen = version
    ilse("#{@installation.show}/edits", {edit: {kind: "rename", id: "rec/track/1", name: "Hurdy"}})
    expect(post("#{@installation.show}/edits", {version: seen, edit: {kind: "rename", id: "rec/track/2", name: "Late"}}).first).to eq(200)
    expect(post("#{@installation.show}/edits", {version: seen, edit: {kind: "rename", id: "rec/track/2", name: "Later"}}).first).to eq(200)
    expect(get(@installation.show).last["tracks"].first(2).map { |track| track["name"] }).to eq(%w[Hurdy Later])
    expect(post("#{@installation.show}/undo", {version: seen}).first).to eq(200)
    post("#{@installation.show}/undo", {version: seen})
    ilse("#{@installation.show}/undo", {})
    expect(post("#{@installation.show}/edits", {version: version + 5, edit: {kind: "rename", id: "rec/track/2", name: "x"}}).first).to eq(409)
  end

  it "swings only what was looked at, whatever somebody else changed" do
    seen = version
    ilse("#{@installation.show}/edits", {label: "Name of track 1", edit: {kind: "rename", id: "rec/track/1", name: "Hurdy"}})
    status, answer = post("#{@installation.show}/swing", {version: seen, to: "recorder"})
    expect([status, answer["error"]["message"]]).to eq([409, "In between came \"Name of track 1\" by Ilse. Nothing of yours was changed; look again and repeat it."])
    ilse("#{@installation.show}/undo", {})
    expect(@installation.api("get", "#{@installation.show}/history", nil, "x-client" => "tablet").last.first).to include("label" => "Name of track 1", "undone" => true)
  end

  describe "bad input" do
    {
      ["/api/shows/1/edits", {version: 1}] => [400, /missing required properties: edit/],
      ["/api/shows/1/edits", "{nonsense"] => [400, /JSON/],
      ["/api/shows/1/edits", {version: "one", edit: {kind: "clear"}}] => [400, /version.*integer/],
      ["/api/shows/1/joins", {version: 1, from: "x", to: "desk/channel/1"}] => [400, /from/],
      ["/api/shows/1/undo", {version: 1, more: 2}] => [400, /more/],
      ["/api/shows/1/takes/seven/play", {}] => [400, /integer/],
      ["/api/shows/1/undo", "{\"version\": 1, \"x\": \"#{"y" * 17_000_000}\"}"] => [413, /at most 16777216 bytes/],
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
      expect([post("#{@installation.show}/takes/99/play"),
        post("#{@installation.show}/songs/none/play"),
        get("#{@installation.show}/looms/warp"),
        get("#{@installation.show}/trace?endpoint=desk/channel/99")].map(&:first)).to eq([422, 422, 422, 422])
    end
  end

  it "answers an edit with the show and the loom as they are then" do
    answer = post("#{@installation.show}/edits", {version: version, loom: "patch", edit: {kind: "plug", row: "list/row/1", socket: "desk/mic/20"}}).last
    expect(answer["show"]).to include("version" => answer["version"], "undo" => "Edit")
    expect(answer["loom"]["strands"]).to include(include("from" => "list/row/1", "to" => "desk/mic/20"))
    expect(post("#{@installation.show}/undo", {version: version, loom: "warp"}).first).to eq(422)
    # What is refused is not done either.
    expect(get(@installation.show).last["rows"].first["socket"]).to eq("desk/mic/20")
  end

  it "previews without changing anything" do
    before = version
    preview = post("#{@installation.show}/preview", {edit: {kind: "shift", slots: (1..8).map { |n| "desk/channel/#{n}" }, by: 16}}).last
    expect([preview["changes"].sum { |change| change["places"].size }, version]).to eq([16, before])
    expect(post("#{@installation.show}/preview", {edit: {kind: "shift", slots: ["desk/channel/1"], by: 1}}).last["error"]["message"]).to include("patched as one block")
    expect(post("#{@installation.show}/preview", {}).first).to eq(400)
  end

  it "tells what a cable and another rate would do" do
    expect(get("#{@installation.show}/rig/cable?a=box-a/chain&b=desk/aes50-b").last).to include("fits" => true, "sentence" => start_with("AES50, 48 lanes each way"))
    expect(get("#{@installation.show}/rig/cable?a=box-a/chain&b=rec/interface").last).to include("fits" => false, "sentence" => end_with("no cable joins them."))
    expect(get("#{@installation.show}/rig/rate?rate_hz=96000").last["links"].map { |link| link["lanes_then"] }).to eq([24, 16])
    expect(get("#{@installation.show}/rig/rate?rate_hz=12345").first).to eq(400)
    expect(get("#{@installation.show}/profiles/none").last["error"]["message"]).to include("desk-32")
  end

  it "reads an input list without changing it, and refuses what is no table" do
    read = ->(text) {
      Net::HTTP.post(URI("#{@installation.address}#{@installation.show}/rows/read"), text, "content-type" => "text/csv").then do |answer|
        [answer.code, JSON.parse(answer.body)]
      end
    }
    changes = %w[Row Track].map { |what| "#{what} 1 (Hurdy-gurdy): name is New name, before: Hurdy-gurdy" }
    expect(read["number,name\n1,New name\n".b].last["changes"]).to eq(changes)
    expect(read["lamp,oil\n"].then { |code, answer| [code, answer["error"]["message"]] }).to match(["422", /a first line with headings/])
    expect(Net::HTTP.get(URI("#{@installation.address}#{@installation.show}/rows.csv")).lines.size).to eq(13)
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
    as[mine, "#{@installation.show}/edits", {version: version, edit: {kind: "rename", id: "desk/bus/9", name: "One"}}]
    as[theirs, "#{@installation.show}/edits", {version: version, edit: {kind: "rename", id: "desk/bus/10", name: "Two"}}]
    expect(as[mine, "#{@installation.show}/undo", {version: version}].first).to eq(200)
    expect(get("#{@installation.show}/file").last["names"]).to include("desk/bus/10" => "Two").and(not_include("desk/bus/9" => "One"))
    as[mine, "#{@installation.show}/redo", {version: version}]
    as[theirs, "#{@installation.show}/edits", {version: version, edit: {kind: "rename", id: "desk/bus/9", name: "Other"}}]
    expect(as[mine, "#{@installation.show}/undo", {version: version}].last["error"]["message"]).to include("Mara \u00e9 changed the same place since")
    expect(get("#{@installation.show}/history").last.first).to include("who" => "Mara \u00e9", "mine" => false, "undone" => false)
    2.times { as[theirs, "#{@installation.show}/undo", {version: version}] }
    expect(as[mine, "#{@installation.show}/undo", {version: version}].first).to eq(200)
  end

  it "refuses a show file that is cut short, or has a thousand faults, with the first of them by their place" do
    whole = JSON.parse(Net::HTTP.get(URI("#{@installation.address}#{@installation.show}/file")))
    before = version
    shows = get("/api/shows").last["count"]
    cut = @installation.api("post", "/api/shows/file", JSON.generate(whole)[0..-200])
    faulty = @installation.api("post",
      "/api/shows/file",
      JSON.generate(whole.merge("rows" => Array.new(1000) { |n| {"id" => "list/row/#{n + 1}", "name" => ""} })))
    expect([cut.first, faulty.first, faulty.last["error"]["message"]]).to match([400, 422, %r{/rows/0/name.*/rows/1/name}])
    expect([version, get("/api/shows").last["count"]]).to eq([before, shows])
  end

  it "does an edit once that is sent again because its answer was lost, whatever came in between" do
    twice = {version: version, request: SecureRandom.uuid, edit: {kind: "rename", id: "list/row/1", name: "Sent twice"}}
    first = post("#{@installation.show}/edits", twice)
    post("#{@installation.show}/edits", {version: version, edit: {kind: "rename", id: "list/row/1", name: "By somebody else"}})
    again = post("#{@installation.show}/edits", twice)
    expect([first.first, again.first, again.last["version"]]).to eq([200, 200, first.last["version"] + 1])
    expect(get(@installation.show).last["rows"].first["name"]).to eq("By somebody else")
    labels = get("#{@installation.show}/history").last.size
    expect(post("#{@installation.show}/edits", twice.merge(version: version)).first).to eq(200)
    expect(get("#{@installation.show}/history").last.size).to eq(labels)
    expect(post("#{@installation.show}/edits", twice.merge(request: "1; drop")).first).to eq(400)
  end

  it "does all of a group or nothing when the server is killed in the middle of edits" do
    names = ->(n) { {version: version, edit: {kind: "group", edits: (1..12).map { |row| {kind: "rename", id: "list/row/#{row}", name: "Pass #{n}"} }}} }
    sender = Thread.new {
      begin
        (1..200).each { |n| post("#{@installation.show}/edits", names[n]) }
      rescue
        nil
      end
    }
    @installation.wait("some edits") { get(@installation.show).last["rows"].first["name"].start_with?("Pass") }
    @installation.kill("server")
    sender.join
    @installation.start("server")
    expect(get(@installation.show).last["rows"].map { |row| row["name"] }.uniq.size).to eq(1)
    @installation.perform(lanterns)
  end

  describe "fields and mixes" do
    it "are read slot by slot and line by line, and refused where there are none" do
      slot = get("#{@installation.show}/fields/desk/output").last["slots"].first
      expect(slot).to include("takes" => "Main L (main 1)", "arrives" => "Main L (main 1)", "tap" => "post-fader")
      expect(get("#{@installation.show}/mixes").last).to include("name" => "desk/bus/1", "label" => "Booth wedge (bus 1)")
      expect(get("#{@installation.show}/mixes/desk/bus/1").last["lines"].first).to include("carries" => "Hurdy-gurdy", "level_db" => -12.0)
      expect(get("#{@installation.show}/fields/desk/toaster")).to match([422, include("error" => include("message" => include("desk/toaster")))])
      expect(get("#{@installation.show}/mixes/desk/channel/1").first).to eq(422)
      expect(get("#{@installation.show}/mixes/desk/bus/none").first).to eq(400)
    end

    it "are written as one edit that the desk follows" do
      status, answer = edit_show(kind: "lay", takes: {"desk/output/5" => {from: "desk/bus/9", delay_ms: 3.5}, "desk/output/6" => {from: "desk/bus/10"}})
      expect([status, answer["show"]["undo"]]).to eq([200, "Edit"])
      @installation.wait("the desk") { get("#{@installation.show}/desk").last["count"] == 0 }
      expect(get("#{@installation.show}/fields/desk/output").last["slots"][4]).to include("takes" => "bus 9", "delay_ms" => 3.5)
      post("#{@installation.show}/undo", {version: version})
      expect(get("#{@installation.show}/fields/desk/output").last["slots"].values_at(4, 5).map { |slot| slot["takes"] }).to eq(["", ""])
    end
  end

  describe "taking off" do
    it "parts two places or frees one, and undoes it" do
      expect(post("#{@installation.show}/partings", {version: version, from: "list/row/1", to: "box-a/mic/1"}).first).to eq(200)
      expect(get(@installation.show).last["rows"].first["socket"]).to be_nil
      post("#{@installation.show}/undo", {version: version})
      expect(post("#{@installation.show}/partings", {version: version, from: "desk/output/1"}).first).to eq(200)
      post("#{@installation.show}/undo", {version: version})
      expect(get(@installation.show).last["rows"].first["socket"]).to eq("box-a/mic/1")
    end

    it "says what cannot be taken off" do
      expect(post("#{@installation.show}/partings", {version: version, from: "desk/bus/16", to: "desk/channel/1"}).last["error"]["message"]).to eq("Nothing is laid between bus 16 and channel 1.")
      expect(post("#{@installation.show}/partings", {version: version, from: "nonsense"}).first).to eq(400)
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
      @installation.perform(rack)
      wait_for(22, 48_000)
      @installation.wait("the patch") { get("#{@installation.show}/desk").last.values_at("count", "fault") == [0, nil] }
      id = post("#{@installation.show}/capture/start").last["id"]
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 12_000 }
      post("/api/capture/stop")
      take = @installation.wait("the take") { get("#{@installation.show}/takes").last["takes"].find { |one| one["id"] == id && one["state"] == "closed" } }
      expect(take["files"].map { |file| file["name"] }).to eq((1..8).map { |n| "Source #{n}" })
    ensure
      @installation.perform(lanterns)
      wait_for(32, 48_000)
    end

    it "or another rate waits until a running take is over" do
      post("#{@installation.show}/capture/start")
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 4_800 }
      edit_show(kind: "show_rate", rate_hz: 44_100, during_take: true)
      @installation.wait("word of it") { get("#{@installation.show}/desk").last["fault"].to_s.include?("waits until the take is over") }
      edit_show(kind: "power", sockets: ["box-a/mic/4"])
      frames = @installation.engine(do: "status").dig("recording", "frames")
      @installation.wait("more frames") { @installation.engine(do: "status").dig("recording", "frames") > frames + 12_000 }
      expect(post("/api/capture/stop").last["ok"]["lost_blocks"]).to eq(0)
      wait_for(32, 44_100)
      @installation.wait("what was edited meanwhile") { get("#{@installation.show}/desk").last["count"] == 0 }
      2.times { post("#{@installation.show}/undo", {version: version}) }
      wait_for(32, 48_000)
      expect(get("#{@installation.show}/desk").last["fault"]).to be_nil
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
        Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(@installation.services.ports["osc"])).stage(hall("rack-20"))
        @installation.wait("the rack") { device.values_at("state", "lanes") == ["running", 22] }
      end
      @installation.wait("the planned desk") { device.values_at("state", "lanes") == ["running", 32] }
      @installation.wait("its patch") { get("#{@installation.show}/desk").last["count"] == 0 }
    end

    it "still waits for the end of a running take with another rate, and then follows" do
      post("#{@installation.show}/capture/start")
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 4_800 }
      edit_show(kind: "show_rate", rate_hz: 44_100, during_take: true)
      @installation.wait("word of it") { get("#{@installation.show}/desk").last["fault"].to_s.include?("waits until the take is over") }
      restart
      edit_show(kind: "power", sockets: ["box-a/mic/4"])
      frames = @installation.engine(do: "status").dig("recording", "frames")
      @installation.wait("more frames") { @installation.engine(do: "status").dig("recording", "frames") > frames + 48_000 }
      expect(post("/api/capture/stop").last["ok"]["lost_blocks"]).to eq(0)
      @installation.wait("the other rate") { device.values_at("state", "rate_hz") == ["running", 44_100] }
      2.times { post("#{@installation.show}/undo", {version: version}) }
      @installation.wait("the rate of before") { device.values_at("state", "rate_hz") == ["running", 48_000] }
    end
  end

  it "exports the show and takes it in again" do
    file = Net::HTTP.get(URI("#{@installation.address}#{@installation.show}/file"))
    status, made = @installation.api("post", "/api/shows/file", file)
    expect(status).to eq(200)
    expect(Net::HTTP.get(URI("#{@installation.address}/api/shows/#{made["id"]}/file"))).to eq(file)
    status, answer = @installation.api("post", "/api/shows/file", JSON.generate(JSON.parse(file).merge("version" => 7)))
    expect([status, answer["error"]["message"]]).to match([422, /a newer one wrote this file/])
  end

  it "serves pages and nothing outside its own folder" do
    fetch = ->(path) { Net::HTTP.start("127.0.0.1", @installation.services.ports["http"]) { |http| http.get(path) } }
    page = fetch["/shows/1/patch"].body
    expect([page, fetch["/"].body]).to all(include("<title>Loomshuttle</title>"))
    expect(%w[/server.log /assets/none.js /assets/Gemfile].map { |path| fetch[path].code }).to eq(%w[404 404 404])
    none = %w[/patch /shows/1/patch/9 /assets/../../../etc/passwd /../Gemfile]
    expect(none.map { |path| fetch[path].code }).to eq(%w[404 404 400 400])
    expect(fetch["/shows/1/patch"]["content-security-policy"]).to include("default-src 'self'")
  end

  it "refuses to answer under a stranger's name" do
    answer = Net::HTTP.start("127.0.0.1", @installation.services.ports["http"]) { |http| http.get(@installation.show, {"host" => "evil.test"}) }
    expect(answer.code).to eq("403")
  end

  describe "capture" do
    it "makes a take that the database, the journal and the files agree on" do
      id = post("#{@installation.show}/capture/start").last["id"]
      expect(post("#{@installation.show}/capture/start").last["error"]["message"]).to include("stop the running take first")
      @installation.wait("a second") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 48_000 }
      post("/api/capture/stop")
      take = @installation.wait("the take") { get("#{@installation.show}/takes").last["takes"].find { |one| one["id"] == id && one["state"] == "closed" } }
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
      all = get(@installation.show).last["tracks"].map { |track| track["id"] }
      edit_show(kind: "arm", tracks: all, armed: false)
      expect(post("#{@installation.show}/capture/start").last["error"]["message"]).to include("arm at least one track that has a lane")
      post("#{@installation.show}/undo", {version: version})
    end

    it "goes on recording when the server is killed" do
      post("#{@installation.show}/capture/start")
      @installation.wait("some frames") { (@installation.engine(do: "status").dig("recording", "frames") || 0) > 24_000 }
      @installation.kill("server")
      frames = @installation.engine(do: "status").dig("recording", "frames")
      @installation.wait("more frames") { @installation.engine(do: "status").dig("recording", "frames") > frames + 24_000 }
      @installation.start("server")
      expect(post("/api/capture/stop").last["ok"]["lost_blocks"]).to eq(0)
      @installation.wait("the take") { get("#{@installation.show}/takes").last["takes"].first["state"] == "closed" }
    end
  end
end

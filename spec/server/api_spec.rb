# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "support/wav_files"

# The real server with its database, engine and stand-in, over HTTP.
RSpec.describe "The server" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    @installation.wait("engine and desk") { @installation.api("get", "/api/ribbon").first == 200 && @installation.api("get", "/api/desk").first == 200 }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  def get(path) = @installation.api("get", path)
  def post(path, body = {}) = @installation.api("post", path, body)
  def version = get("/api/show").last["version"]
  def edit_show(edit) = post("/api/edits", {version: version, edit: edit})

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

  it "refuses an edit made for an older version, and changes nothing" do
    edit_show(kind: "rename", id: "rec/track/1", name: "Hurdy")
    status, answer = post("/api/edits", {version: version - 1, edit: {kind: "rename", id: "rec/track/1", name: "Late"}})
    expect([status, answer["error"]["message"]]).to match([409, /at version \d+ by now.*Nothing was changed/])
    expect(get("/api/show").last["tracks"].first["name"]).to eq("Hurdy")
    post("/api/undo", {version: version})
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
      expect(edit_show(kind: "melt").last["error"]["message"]).to include("one of connect")
    end

    it "knows no other take, song, loom or place" do
      expect([post("/api/takes/99/play"), post("/api/songs/none/play"), get("/api/looms/warp"), get("/api/trace?endpoint=desk/channel/99")].map(&:first)).to eq([422, 422, 422, 422])
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
      journal = JSON.parse(File.read(File.join(@folder, "takes", take["folder"], "take.json")))
      frames = Dir[File.join(@folder, "takes", take["folder"], "*.wav")].map { |path| File.open(path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).frames } }
      expect([frames.size, frames.uniq, journal["frames"]]).to eq([12, [take["frames"]], take["frames"]])
      expect(journal["time_reference_samples"]).to be_between(0, 86_400 * 48_000)
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
      answers = files.map { |name, bytes| @installation.api("put", "/api/imports/#{id}/files/#{URI.encode_www_form_component(name).gsub("+", "%20")}", bytes.b) }
      [id, answers]
    end

    it "copies, checks, matches by name, and lets the rest be settled by hand" do
      id, answers = bring("01 Hurdy gurdy.wav" => WavFiles.pcm16([1, 2, 3]), "cimbalom.wav" => WavFiles.pcm16([1, 2, 3, 4], channels: 2), "mystery.wav" => WavFiles.pcm16([5, 6]))
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
      id, answers = bring([["kick.wav", WavFiles.pcm16([1])], ["kick.wav", WavFiles.pcm16([1, 2])], [long, WavFiles.pcm16([1])], ["..sneaky 🎻.wav", WavFiles.pcm16([1])]])
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

# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/engine"
require_relative "../../boot/server"

# What is recorded over a take lies where the musicians heard what they played to: here the channel
# that hears the take is recorded again, so that the new take holds the very same samples.
RSpec.describe "Recording over a take" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    @installation.wait("the device") { @installation.engine(do: "status").dig("device", "state") == "running" }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  # Channel 4 listens to the recorder; what it hears goes out at output 4 and comes in on lane 20.
  let(:looped) do
    turned = show(edit("connect", slot: "desk/channel/4", from: "desk/card-return/4"),
      *(1..8).map { |n| edit("connect", slot: "desk/output/#{n}", from: "desk/channel/#{n}", tap: "in") },
      edit("connect", slot: "desk/card-send/17", from: "desk/output/1"), edit("connect", slot: "rec/track/20", from: "rec/lane-in/20"))
    track = Loomshuttle::Capture::Track.new(id: "rec/track/20", place: "rec/track/20", name: "Again", armed: false)
    turned.with(tracks: turned.tracks.merge("rec/track/20" => track).freeze)
  end

  def api(...) = @installation.api(...)
  def takes = api("get", "#{@installation.show}/takes").last["takes"]
  def recording = @installation.engine(do: "status")["recording"]
  def more(frames) = @installation.wait("frames") { (recording || {"frames" => 0})["frames"] > frames }

  def arm(numbers)
    tracks = numbers.map { |number| "rec/track/#{number}" }
    {looped.tracks.keys - tracks => false, tracks => true}.each do |some, on|
      api("post", "#{@installation.show}/edits", {version: api("get", @installation.show).last["version"], label: "Arm", edit: {kind: "arm", tracks: some, armed: on}, on_recorder: true})
    end
  end

  def stop
    api("post", "/api/capture/stop", {})
    @installation.wait("the row") { takes.first["state"] == "closed" }
  end

  def samples(take, name)
    path = File.join(@folder, "takes", take["folder"], name)
    File.open(path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| [reader.read_s32(0, reader.frames)[true, 0], reader.bext.time_reference_samples] } }
  end

  # A take of these tracks, to be recorded over: the way out and back is measured.
  def recorded(numbers)
    @installation.perform(looped)
    arm(numbers)
    @installation.wait("the desk") { api("get", "#{@installation.show}/desk").last["count"] == 0 }
    api("put", "#{@installation.show}/session", {preroll_s: 0})
    expect(api("post", "#{@installation.show}/round-trip", {lane_out: 4, lane_in: 20}).first).to eq(200)
    expect(api("post", "#{@installation.show}/capture/start", {on_recorder: true}).first).to eq(200)
    more(30_000)
    stop
    takes.first
  end

  it "lies sample for sample over what it was played to, with the measured way out and back taken off" do
    @installation.perform(looped)
    arm([4])
    @installation.wait("the desk") { api("get", "#{@installation.show}/desk").last["count"] == 0 }
    api("put", "#{@installation.show}/session", {preroll_s: 0})
    # Measured on an idle loop.
    code, measured = api("post", "#{@installation.show}/round-trip", {lane_out: 4, lane_in: 20})
    expect([code, measured["frames"] > 0]).to eq([200, true])
    expect(api("post", "#{@installation.show}/capture/start", {on_recorder: true}).first).to eq(200)
    more(100_000)
    stop
    first = takes.first
    arm([20])
    expect(api("post", "#{@installation.show}/takes/#{first["id"]}/over", {}).first).to eq(200)
    more(90_000)
    stop
    over = takes.first
    (played, began), (heard, began_over) = samples(first, "04 Tuba.wav"), samples(over, "20 Again.wav")
    count = [played.size, heard.size].min
    expect(count).to be > 80_000
    expect([began_over - began, heard[0...count].ne(played[0...count]).count]).to eq([0, 0])
  end

  it "prints a take by way of other tracks, whichever are armed, and ends by itself behind its end" do
    first = recorded([4])
    expect(api("post", "#{@installation.show}/takes/#{first["id"]}/over", {tracks: ["rec/track/99"], once: true}).last.dig("error", "field")).to eq("tracks")
    expect(api("post", "#{@installation.show}/takes/#{first["id"]}/over", {tracks: ["rec/track/20"], once: true}).first).to eq(200)
    more(10_000)
    expect(recording.values_at("state", "armed")).to eq(["recording", ["rec/track/20"]])
    @installation.wait("its end") { recording.nil? && takes.first.values_at("origin", "state") == %w[recorded closed] && takes.first["id"] != first["id"] }
    print = takes.first
    (played, began), (heard, began_print) = samples(first, "04 Tuba.wav"), samples(print, "20 Again.wav")
    expect([print["name"], heard.size - played.size, began_print - began, heard[0...played.size].ne(played).count]).to eq(["Print of #{first["name"]}", 3 * 48_000, 0, 0])
    # What was armed is armed as before.
    expect(api("get", @installation.show).last["tracks"].select { |track| track["armed"] }.map { |track| track["id"] }).to eq(["rec/track/4"])
  end

  it "sums tracks that share a return, each at the level that is shown" do
    first = recorded([3, 4])
    version = api("get", @installation.show).last["version"]
    edit = {kind: "share_return", tracks: ["rec/track/3"], beside: "rec/track/4", sum_db: -4.5}
    expect(api("post", "#{@installation.show}/edits", {version: version, label: "Share", edit: edit}).first).to eq(200)
    shown = api("get", @installation.show).last["tracks"].to_h { |track| [track["number"], track.values_at("return_lane", "beside", "sum_db")] }
    expect(shown.values_at(3, 4, 5)).to eq([[4, "rec/track/4", -4.5], [4, nil, -4.5], [5, nil, nil]])
    expect(api("post", "#{@installation.show}/takes/#{first["id"]}/over", {tracks: ["rec/track/20"], once: true}).first).to eq(200)
    @installation.wait("its end") { recording.nil? && takes.first.values_at("origin", "state") == %w[recorded closed] && takes.first["id"] != first["id"] }
    one, other = ["03 Cimbalom R.wav", "04 Tuba.wav"].map { |name| Numo::DFloat.cast(samples(first, name).first) }
    heard = Numo::DFloat.cast(samples(takes.first, "20 Again.wav").first[0...one.size])
    expect([one, other].map { |track| track.abs.max }).to all(be > 2**20)
    # One step of 24 bit.
    expect((heard - (one + other) * 10**(-4.5 / 20)).abs.max).to be < 512
  end

  describe "what plays" do
    def playing = @installation.deck(do: "status")["playing"]
    def post(path, body) = api("post", "/api/playing/#{path}", body)

    before do
      @installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended))
      2.times do
        expect(api("post", "#{@installation.show}/capture/start", {on_recorder: true}).first).to eq(200)
        more(60_000)
        stop
      end
    end

    after { post("stop", {}) }

    it "goes to a bar of the song that was played while it was recorded" do
      song = Loomshuttle::Demo.show(Loomshuttle::Demo.mended).song("low-tide-waltz")
      expect(post("locate", {bar: 1}).last["error"].values_at("field", "value")).to eq(["playing", nil])
      api("post", "#{@installation.show}/capture/start", {on_recorder: true})
      mark = api("post", "/api/capture/mark", {label: song.title}).last
      wanted = mark["frame"] + song.layout.bar_1_at
      more(wanted + 20_000)
      stop
      api("post", "#{@installation.show}/takes/#{takes.first["id"]}/play", {})
      post("pause", {on: true})
      @installation.wait("the pause") { playing["paused"] }
      expect(post("locate", {bar: 1}).first).to eq(200)
      expect(playing["position_frames"]).to eq(wanted)
      expect(post("locate", {bar: 999}).last["error"].values_at("field", "message")).to match(["bar", /1 to #{song.last_bar}/])
      expect(post("locate", {}).first).to eq(400).or eq(422)
    end

    it "is held and goes on where it was, with the same trims, mutes and the same loop, and on into the next take" do
      first, second = takes.first(2).sort_by { |take| take["number"] }
      expect(api("post", "#{@installation.show}/takes/#{first["id"]}/play", {onward: true}).first).to eq(200)
      expect(playing["length_frames"]).to eq(first["frames"] + second["frames"])
      post("loop", {loop: [10_000, 40_000]})
      post("trim", {key: "rec/track/2", gain_db: -6})
      post("trim", {key: "rec/track/3", gain_db: 1.5})
      post("mute", {keys: ["rec/track/4"]})
      expect(post("solo", {key: "rec/track/2"}).first).to eq(200)
      turned = {"loop" => [10_000, 40_000], "gains_db" => {"rec/track/2" => -6, "rec/track/3" => 1.5}, "muted" => ["rec/track/4"], "solo" => "rec/track/2", "paused" => false}
      expect(playing).to include(turned)
      post("pause", {on: true})
      held = @installation.wait("the pause") { playing.then { |one| one if one["paused"] } }
      expect(held).to include(turned.merge("paused" => true))
      # It holds while nothing moves, and is turned all the same.
      post("locate", {frame: 20_000})
      post("mute", {keys: []})
      expect(playing).to include("position_frames" => 20_000, "muted" => [])
      # A ping would end what is held, and nobody would know.
      refused = api("post", "#{@installation.show}/soundcheck/ping", {outputs: "muted"})
      expect([refused.first, refused.last.dig("error", "field"), playing["paused"]]).to eq([422, "playing", true])
      post("pause", {on: false})
      @installation.wait("it to go on") { playing.then { |one| !one["paused"] && one["position_frames"] > 20_000 } }
      expect(playing).to include(turned.merge("muted" => []))
    end

    it "gives one track alone to lanes that nothing uses, and says so where there are none" do
      expect(api("post", "#{@installation.show}/takes/#{takes.first["id"]}/play", {repeat: true}).first).to eq(200)
      post("solo", {key: "rec/track/2"})
      expect([post("solo", {key: nil}).first, playing.values_at("solo", "solo_lanes")]).to eq([200, [nil, []]])
      post("solo", {key: "rec/track/1"})
      # Thirteen and fourteen are the first pair on which no return and no role lies.
      @installation.wait("the pair") { playing["peak_dbfs"].then { |peaks| peaks.size > 14 && peaks[12] > -60 && peaks[12] == peaks[0] && peaks[13] == peaks[0] } }
      expect(playing.values_at("solo", "solo_lanes")).to eq(["rec/track/1", [13, 14]])
      taken = (1..show.rig.devices["rec"].family("lane-out").count).to_h { |n| ["rec/lane-out/#{n}", {from: "rec/track/1"}] }
      version = api("get", @installation.show).last["version"]
      expect(api("post", "#{@installation.show}/edits", {version: version, edit: {kind: "lay", takes: taken}}).first).to eq(200)
      expect(post("solo", {key: "rec/track/1"}).then { |status, answer| [status, answer.dig("error", "field")] }).to eq([422, "lanes"])
      expect(post("pause", {on: true}).first).to eq(200)
      expect(post("stop", {}).first).to eq(200)
      expect(post("pause", {on: true}).then { |status, answer| [status, answer.dig("error", "field")] }).to eq([422, "playing"])
    end
  end
end

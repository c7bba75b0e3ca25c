# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/server"

# The guided check through all parts: a tap on the simulated stage, desk, card, engine, ring, ear, server, database.
RSpec.describe "The line check" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder, speed: 3).start("standin", "engine", "ear", "server")
    @installation.perform(show_of_demo)
    @installation.wait("engine and desk") { api("get", "simulation").last["simulated"] && @installation.engine(do: "status").dig("device", "state") == "running" }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  after do
    check("stop")
    simulate(do: "unplant")
    simulate(do: "quiet", on: false)
  end

  def show_of_demo = Loomshuttle::Demo.show(Loomshuttle::Demo.mended)
  def api(method, path, body = nil, headers = {}) = @installation.api(method, "#{@installation.show}/#{path}", body, headers)
  def check(wish, **more) = api("post", "linecheck", {do: wish, **more}, {"x-who" => "Ilse"})
  def simulate(**wish) = api("post", "simulation", wish).tap { |status, answer| raise answer.to_s unless status == 200 }
  def row(number) = "list/row/#{number}"
  def now = api("get", "linecheck").last
  def verdict(number) = now["rows"].find { |one| one["id"] == row(number) }["verdict"]

  def begin_check
    simulate(do: "quiet", on: true)
    check("again", rows: (1..12).map { |n| row(n) })
    check("start")
    @installation.wait("the ear", seconds: 30) { now["ear"].values_at("answers", "listening", "ready") == [true, true, true] }
  end

  # Taps until it was heard, as people do: a second tap may come while the first still sounds, and a busy machine may lose a block
  # of the card, which is not put together.
  def tap(number, about: number)
    before = verdict(about)
    12.times do
      simulate(do: "tap", row: row(number))
      return @installation.wait("a verdict on #{about}", seconds: 3) { verdict(about).then { |one| one if one && one != before } }
    rescue RuntimeError
      next
    end
    raise "#{number} was not heard: #{now}"
  end

  it "goes from source to source as they are tapped, each found at its place by whoever began it" do
    begin_check
    expect([tap(1), tap(2)]).to all(include("place" => "right", "faults" => [], "who" => "Ilse", "peak_dbfs" => be_within(1).of(-14)))
    # And it is a sheet on paper.
    sheet = api("get", "paper").last["sheets"].find { |one| one["key"] == "linecheck" }
    expect(sheet["rows"].first(3).map { |cells| cells.values_at(1, 4, 7) }).to eq([["Hurdy-gurdy", "proved", "Ilse"], ["Cimbalom L", "proved", "Ilse"], ["Cimbalom R", "not heard", ""]])
    expect(now.slice("turn", "listening")).to eq("turn" => row(3), "listening" => true)
  end

  it "names both ends of a swap, and is right again with the plan mended as it was heard, or with the plugs" do
    begin_check
    simulate(do: "plant", kind: "swap", row: row(7), other: row(8))
    check("turn", row: row(7))
    expect(tap(7)).to include("place" => "elsewhere", "lane" => 8, "other" => row(8), "said" => ["It came in on lane 8.", "That is the place of 8 Overhead R. Plugs 7 and 8 at Box A look swapped."], "mend" => {"label" => "Plan it on lane 8", "why" => nil})
    version = @installation.api("get", @installation.show).last["version"]
    expect(api("post", "linecheck/mend", {version: version, row: row(7)}).first).to eq(200)
    # Its way is another: what was found does not hold for it.
    expect(now["rows"][6].slice("state", "verdict", "lanes")).to eq("state" => "again", "verdict" => nil, "lanes" => [8])
    @installation.wait("the desk") { api("get", "desk").last["count"] == 0 }
    expect(tap(7)).to include("place" => "right", "lane" => 8)
    api("post", "undo", {version: version + 1})
    @installation.wait("the desk") { api("get", "desk").last["count"] == 0 }
    simulate(do: "unplant", kind: "swap", row: row(7))
    check("again", rows: [row(7), row(8)])
    expect([tap(7), tap(8)]).to all(include("place" => "right"))
  end

  # The stand-in's plugs are swapped, and whoever taps walks on: nothing is proved by the second plug.
  it "proves nobody by the next one's tap while something is wrong" do
    begin_check
    simulate(do: "plant", kind: "swap", row: row(4), other: row(5))
    check("turn", row: row(4))
    expect(tap(4)).to include("place" => "elsewhere", "lane" => 5)
    simulate(do: "tap", row: row(5))
    expect(@installation.wait("the other plug") { now["since"] }).to start_with("Since then something came in on lane 4, where the plan has 4 Tuba.")
    expect([verdict(4)["lane"], verdict(5), now["turn"]]).to eq([5, nil, row(4)])
    check("skip", row: row(4))
    expect(tap(5)).to include("place" => "elsewhere", "lane" => 4)
    expect(now.values_at("turn", "since")).to eq([row(5), nil])
  end

  it "takes hum that begins for nobody's tap: it is said until somebody has seen it, and who is tapped there hums" do
    begin_check
    check("turn", row: row(8))
    # Who is heard is heard by an ear that knows the quiet stage.
    tap(8)
    expect(now["turn"]).to eq(row(9))
    simulate(do: "plant", kind: "hum", row: row(9))
    hums = @installation.wait("the hum", seconds: 30) { now["hums"].then { |told| told if told.any? } }
    expect(hums).to match([include("lane" => 9, "said" => match(/\AHum of 50 Hz began on lane 9 \(9 Accordion\), -\d+ dBFS: it was not taken for a tap/))])
    expect([verdict(9), now["turn"]]).to eq([nil, row(9)])
    expect(tap(9)).to include("place" => "right", "faults" => ["hum"])
    check("seen")
    expect(now["hums"]).to eq([])
  end

  it "takes a press on an old page for no other source, and says why" do
    begin_check
    check("turn", row: row(4))
    expect(check("nothing", row: row(3)).then { |status, answer| [status, answer.dig("error", "message")] }).to match([422, include("meanwhile that is 4 Tuba")])
    expect(check("nothing", row: row(4)).last["rows"][3]["verdict"]).to include("place" => "nothing", "said" => ["Nothing arrived.", include("look at the cable")])
    # What was found wrong stands when it is left.
    expect(check("skip", row: row(4)).last["rows"][3]).to include("state" => "wrong")
    expect(now["turn"]).to eq(row(5))
    expect(check("skip", row: row(5)).last["rows"][4]).to include("state" => "skipped")
  end

  it "judges nothing that came before it began, and each arrival once, though server and ear are killed" do
    simulate(do: "quiet", on: true)
    begin_check
    tap(1)
    version = now["version"]
    %w[server ear].each { |name| @installation.kill(name) && @installation.start(name) }
    @installation.wait("the ear again", seconds: 30) { now["ear"].values_at("answers", "listening", "ready") == [true, true, true] }
    expect(now["version"]).to eq(version)
    expect(tap(2)).to include("place" => "right")
  end

  it "is refused for a show that is not on air, and for rows that there are not" do
    other = @installation.api("post", "/api/shows", {name: "Another"}).last["id"]
    expect(@installation.api("post", "/api/shows/#{other}/linecheck", {do: "start"}).then { |status, answer| [status, answer.dig("error", "message")] }).to match([422, include("put this one on air first")])
    expect(check("turn", row: "list/row/none").first).to eq(422)
    expect(api("post", "simulation", {do: "plant", kind: "hum", row: "list/row/none"}).first).to eq(422)
    check("again", rows: [row(1)])
    expect(api("post", "linecheck/mend", {version: 1, row: row(1)}).first).to eq(422)
    expect(check("dance").first).to eq(400)
  end

  it "says that the desk does not answer when its line is cut, and has the simulation's own panel all the same" do
    expect(simulate(do: "cut", on: true).last).to include("simulated" => true, "cut" => true)
    expect(api("get", "simulation").last).to include("simulated" => true, "cut" => true)
    expect(api("get", "linecheck").first).to eq(200)
    expect(api("post", "controls", {row: row(5), fader_db: -3}).then { |status, answer| [status, answer.dig("error", "field")] }).to eq([503, "desk"])
    simulate(do: "cut", on: false)
    @installation.wait("the desk to answer") { api("post", "controls", {row: row(5), fader_db: 0}).first == 200 }
  end

  it "measures the last minute, and turns a preamp to the aim when asked; the ear hears it" do
    simulate(do: "quiet", on: false)
    check("again", rows: [row(1)])
    check("measure")
    check("aim", dbfs: -20, full_scale_dbu: 18)
    gain = -> { now["rows"][4]["gain"] }
    before = @installation.wait("what the kick plays") { gain.call.then { |found| found if found && found["peak_dbfs"] > -9 && found["preamp_db"] } }
    expect(before).to include("preamp_db" => 0.0, "rms_dbu" => be_within(0.11).of(before["rms_dbfs"] + 18), "distance_db" => be_within(0.11).of(-20 - before["rms_dbfs"]))
    expect(api("post", "linecheck/gain", {row: row(5), by_db: -6}).last).to eq("gain_db" => -6.0)
    # Nothing of what the band plays is judged.
    expect(verdict(1)).to be_nil
    # What was played before the turn counts no more: nobody turns twice for one thing.
    expect(gain.call).to be_nil
    after = @installation.wait("it softer") { gain.call.then { |found| found if found && found["peak_dbfs"] > -16 } }
    expect(after["preamp_db"]).to eq(-6.0)
    expect(after["peak_dbfs"]).to be_within(1).of(before["peak_dbfs"] - 6)
    expect(api("post", "linecheck/gain", {row: row(5), by_db: -72}).then { |status, answer| [status, answer.dig("error", "message")] }).to match([422, /outside -12.0 to 60.0 dB/])
    api("post", "linecheck/gain", {row: row(5), by_db: 6})
  end

  it "shows preamps, faders and mutes as the desk has them, and moves them" do
    one = -> { api("get", "controls").last.find { |each| each["row"] == row(5) } }
    expect(one.call).to include("channel" => "desk/channel/5", "gain_db" => 0.0, "fader_db" => 0.0, "muted" => false)
    [{gain_db: 6}, {fader_db: -12.5}, {muted: true}].each { |wish| expect(api("post", "controls", {row: row(5), **wish}).first).to eq(200) }
    expect(one.call).to include("gain_db" => 6.0, "fader_db" => -12.5, "muted" => true)
    [{gain_db: 0}, {fader_db: 0}, {muted: false}].each { |wish| api("post", "controls", {row: row(5), **wish}) }
    expect(one.call).to include("gain_db" => 0.0, "fader_db" => 0.0, "muted" => false)
    expect(api("post", "controls", {row: row(5), fader_db: 40}).then { |status, answer| [status, answer.dig("error", "field"), answer.dig("error", "message")] }).to match([422, "fader_db", include("outside -90.0 to 10.0 dB")])
    expect(api("post", "controls", {row: "list/row/nobody", muted: true}).then { |status, answer| [status, answer.dig("error", "field")] }).to eq([422, "row"])
    expect(api("post", "controls", {row: row(5), muted: true, gain_db: 3}).first).to eq(400)
  end
end

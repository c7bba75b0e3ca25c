# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/server"

# The return ping through all parts: deck, ring, engine, card, the simulated desk, card, ring, ear, server, database.
RSpec.describe "The return ping" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "ear", "server")
    @installation.perform(hall("desk-48", slots: (1..8).to_h { |n| ["desk/card-send/#{n}", {from: "desk/channel/#{n}", tap: "in"}] }))
    @installation.wait("engine and desk") { api("get", "simulation").last["simulated"] && @installation.engine(do: "status").dig("device", "lanes") == 48 }
    @desk = Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(@installation.services.ports["osc"]))
    @desk.define_singleton_method(:left_on) do |slot, from|
      request("/slot", slot, from, "raw", 0.0)
      request("/turn", slot[0, slot.index("/")], 1)
    end
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  before do
    api("post", "simulation", {do: "unplant"})
    turn("recorder")
  end

  def api(method, path, body = nil, headers = {}) = @installation.api(method, "#{@installation.show}/#{path}", body, headers)
  def view = @installation.api("get", @installation.show).last
  def row(number) = "list/row/#{number}"

  def turn(to)
    return if view["feed"] == to

    expect(api("post", "swing", {to: to, version: view["version"]}).first).to eq(200)
    @installation.wait("the desk") { api("get", "desk").last.values_at("count", "fault") == [0, nil] }
  end

  def ping(outputs: "mute", **more) = api("post", "soundcheck/ping", {outputs: outputs, **more}, {"x-who" => "Ilse"})

  # Of a machine that is busy the card may lose a block; then it is said, and sent again.
  def proof(**more)
    @installation.wait("a ping without a lost block") do
      status, answer = ping(**more)
      raise answer.to_s unless status == 200 || answer.dig("error", "field") == "device"

      answer["proof"] if status == 200
    end
  end

  def states(proof) = proof["lanes"].map { |one| one["state"] }
  def fault(answer) = answer.then { |status, body| [status, body.dig("error", "field")] }

  it "hears every lane on its own channel with the outputs muted, opens them again, and keeps the round trip" do
    @desk.control("/mute", "desk/channel/2", 1)
    found = proof
    expect([states(found), found["words"], found["who"], found["feed"], found["holds"]]).to eq([["right"] * 8, ["All 8 come back as planned."], "Ilse", "recorder", true])
    heard = found["lanes"].flat_map { |one| one["heard"].map { |arrival| arrival.values_at("channel", "gain_db", "inverted", "coloured") } }
    expect(heard).to eq((1..8).map { |n| ["desk/channel/#{n}", 0.0, false, false] })
    expect(@desk.controls[:mute]).to eq(["desk/channel/2"])
  ensure
    @desk.control("/mute", "desk/channel/2", 0)
  end

  # A machine that stood still for a moment: what had not sounded was told as dead, lane by lane.
  it "takes nobody for dead when the deck was late, and says so" do
    stood = @installation.pid("deck")
    answer = Thread.new { ping }
    @installation.wait("the ping to sound") { @installation.deck(do: "status")["playing"] }
    Process.kill("STOP", stood)
    blocks = -> { @installation.engine(do: "status").dig("device", "blocks") }
    before = blocks.call
    @installation.wait("a second of silence") { blocks.call > before + 60 }
    Process.kill("CONT", stood)
    expect(fault(answer.value)).to eq([422, "device"])
    expect(states(proof)).to eq(["right"] * 8)
  ensure
    Process.kill("CONT", stood)
  end

  it "keeps the round trip, which is that of an impulse" do
    found = proof
    expect(api("get", "session").last["round_trip_frames"]).to eq(found["round_trip_frames"])
    expect(@installation.api("post", "#{@installation.show}/round-trip", {lane_out: 1, lane_in: 1}).last["frames"]).to eq(found["round_trip_frames"])
  end

  it "finds crossed channels and one that gets nothing, says so as a finding, and plans it as it was heard" do
    api("post", "simulation", {do: "plant", kind: "crossed", row: row(6), other: row(7)})
    planted = api("post", "simulation", {do: "plant", kind: "return", row: row(3)}).last["planted"]
    expect(planted.map { |fault| fault.values_at("kind", "row", "other") }).to eq([["crossed", row(6), row(7)], ["return", row(3), ""]])
    found = proof
    expect([states(found), found["words"], found["mend"]["label"]]).to eq([%w[right right dead right right crossed crossed right], ["5 of 8 come back as planned.", "6 and 7 are crossed.", "3 does not arrive."], "Plan it as it was heard"])
    @installation.wait("the finding") { view["findings"].find { |one| one["rule"] == "heard-back" && one["severity"] == "stop" } }
    expect(api("post", "soundcheck/mend", {version: view["version"]}).first).to eq(200)
    expect(api("get", "soundcheck").last["proof"].values_at("holds", "words", "lanes")).to eq([false, ["The desk listened to the recorder then."], []])
    @installation.wait("the desk") { api("get", "desk").last.values_at("count", "fault") == [0, nil] }
    expect(states(proof)).to eq(%w[right right dead right right right right right])
    expect(api("post", "undo", {version: view["version"]}).first).to eq(200)
    @installation.wait("the desk") { api("get", "desk").last.values_at("count", "fault") == [0, nil] }
  end

  # Two channels are locked at the desk: it takes six of eight.
  it "says exactly what stands where when the desk refuses a part of a swing, and goes on, or back, in one step" do
    desk = -> { api("get", "desk").last }
    [3, 6].each { |n| api("post", "simulation", {do: "plant", kind: "locked", row: row(n)}) }
    expect(api("post", "swing", {to: "stage", version: view["version"]}).first).to eq(200)
    told = @installation.wait("the refusal") { desk.call.then { |one| one if one["fault"] && one["count"].positive? } }
    expect(told["fault"]).to match(/refused 2 of \d+: channel 3 is locked at the desk; channel 6 is locked/i)
    expect(told["changes"].flat_map { |change| change["places"] }.map { |id| Loomshuttle::Endpoint.number(id) }.uniq).to contain_exactly(3, 6)
    # Back as one step: the six go with the two.
    expect(api("post", "swing", {to: "recorder", version: view["version"]}).first).to eq(200)
    @installation.wait("all of it back") { desk.call["count"].zero? }
    # On as one step, when somebody has opened them.
    expect(api("post", "swing", {to: "stage", version: view["version"]}).first).to eq(200)
    @installation.wait("the refusal") { desk.call.then { |one| one["fault"] && one["count"].positive? } }
    api("post", "simulation", {do: "unplant", kind: "locked", row: row(3)})
    expect(api("post", "desk/push", {}).then { |status, answer| [status, answer.dig("error", "message")] }).to match([422, /refused 1 of \d+: channel 6/i])
    api("post", "simulation", {do: "unplant"})
    expect(api("post", "desk/push", {}).first).to eq(200)
    @installation.wait("all of it there") { desk.call.values_at("count", "fault") == [0, nil] }
  end

  it "tells in a second that the desk is back on the stage, or that it was left on though the plan says otherwise" do
    turn("stage")
    expect(proof(quick: true).slice("feed", "words")).to eq("feed" => "stage", "words" => ["Heard: the desk listens to the stage, as planned."])
    # Somebody laid a return in the desk's second set and switched over to it.
    @desk.left_on("desk/recorder-set/4", "desk/card-return/4")
    @installation.wait("the drift") { api("get", "desk").last["count"] == 2 }
    found = proof(quick: true)
    expect(found.slice("feed", "words")).to eq("feed" => "recorder", "words" => ["Heard: the desk listens to the recorder, not to the stage as planned."])
    @installation.wait("the finding") { view["findings"].find { |one| one["title"] == "A desk was heard to listen to the recorder" } }
    api("post", "desk/push", {fields: nil})
    @installation.wait("the desk") { api("get", "desk").last["count"] == 0 }
    @installation.wait("what it was") { proof(quick: true)["feed"] == "stage" }
  end

  it "records nothing from the recorder, and arms nothing, until somebody who was told says so again" do
    expect(fault(api("post", "capture/start", {}))).to eq([409, "on_recorder"])
    id = view["tracks"].first["id"]
    arm = ->(armed, **more) { api("post", "edits", {version: view["version"], edit: {kind: "arm", tracks: [id], armed: armed}, **more}) }
    expect(arm[false].first).to eq(200)
    expect(fault(arm[true])).to eq([409, "on_recorder"])
    expect([view["tracks"].first["armed"], arm[true, on_recorder: true].first]).to eq([false, 200])
    expect(api("post", "capture/start", {on_recorder: true}).first).to eq(200)
    @installation.api("post", "/api/capture/stop", {})
    @installation.wait("the take") { @installation.engine(do: "status")["recording"].nil? }
  end

  it "says on the way back whether the stage is what it was, and which sources are to be heard again" do
    expect(api("get", "soundcheck").last["back"]).to be_nil
    turn("stage")
    expect(api("get", "soundcheck").last["back"]).to eq("changes" => [], "proved" => 0, "again" => [])
    turn("recorder")
    api("post", "edits", {version: view["version"], edit: {kind: "plug", row: row(8), socket: "desk/mic/12"}})
    turn("stage")
    expect(api("get", "soundcheck").last["back"]["changes"]).to contain_exactly(a_string_including("Source 8"))
    api("post", "edits", {version: view["version"], edit: {kind: "plug", row: row(8), socket: "desk/mic/8"}})
    expect(api("get", "soundcheck").last["back"]["changes"]).to eq([])
  end

  it "keeps when the doors open" do
    expect(api("post", "soundcheck", {do: "doors", at: "2026-11-26T19:30:00Z"}).last["doors_at"]).to eq("2026-11-26T19:30:00Z")
    expect(api("post", "soundcheck", {do: "doors", at: nil}).last["doors_at"]).to be_nil
  end

  it "refuses while a take runs, while something plays, and a show that is not on air" do
    take = api("post", "capture/start", {on_recorder: true}).last
    expect(fault(ping)).to eq([422, "take"])
    @installation.api("post", "/api/capture/stop", {})
    @installation.wait("the take") { @installation.engine(do: "status")["recording"].nil? }
    id = @installation.wait("the take's row") { api("get", "takes").last["takes"].find { |one| one["state"] == "done" || one["frames"].to_i > 0 } }["id"]
    expect(api("post", "takes/#{id}/play", {repeat: true}).first).to eq(200)
    expect(fault(ping)).to eq([422, "playing"])
    expect(@desk.controls[:mute]).to eq([])
    @installation.api("post", "/api/playing/stop", {})
    other = @installation.api("post", "/api/shows", {name: "Elsewhere"}).last["id"]
    expect(@installation.api("post", "/api/shows/#{other}/soundcheck/ping", {outputs: "mute"}).then { |answer| fault(answer) }).to eq([422, "show"]) if other
    expect(take).to be_a(Hash)
  end

  it "says who does not answer, keeps what was proved, and opens what was muted" do
    kept = proof["at"]
    @installation.kill("ear")
    expect(ping.then { |status, body| [status, body.dig("error", "field")] }).to eq([503, "the ear"])
    expect([@desk.controls[:mute], api("get", "soundcheck").last["proof"]["at"]]).to eq([[], kept])
    @installation.start("ear")
    @installation.wait("the ear again") { ping.first == 200 }
  end

  it "lists the steps of a swing for a desk that does not answer, ticked by anybody, kept over a new start" do
    turn("stage")
    expect(api("get", "soundcheck").last["steps"]).to eq([])
    @installation.kill("standin")
    # Levels may have come until just now; asking takes longer than they count for.
    2.times { @installation.wait("a desk that is away") { api("post", "simulation", {do: "unplant"}).first == 503 } }
    expect(api("post", "swing", {to: "recorder", version: view["version"]}).first).to eq(200)
    expect(api("get", "soundcheck").last["steps"].map { |step| step["words"] }).to eq(["Set second set 1–8 to USB return 1–8.", "Switch Desk over to the second set."])
    api("post", "soundcheck", {do: "tick", step: 1, on: true}, {"x-who" => "Ilse"})
    expect(fault(api("post", "soundcheck", {do: "tick", step: 7, on: true}))).to eq([422, "step"])
    @installation.kill("server")
    @installation.start("server")
    expect(api("get", "soundcheck").last["steps"].map { |step| step["done_by"] }).to eq([nil, "Ilse"])
    back_again
    turn("stage")
    expect(api("get", "soundcheck").last["steps"]).to eq([])
  ensure
    back_again unless @desk_is_back
  end

  def back_again
    @installation.start("standin")
    @desk_is_back = true
    @installation.wait("the desk's answer") { api("get", "simulation").last["simulated"] }
    # It stands as it stood, or as it was set up anew: either is known when it has been asked.
    @installation.wait("the desk") { @desk.checksum && api("get", "desk").last["fault"].nil? }
  end
end

# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/server"

RSpec.describe Loomshuttle::Server::Hub do
  let(:hub) { described_class.new }

  def pair = UNIXSocket.pair

  it "sends each event to every browser" do
    pipes = [pair, pair]
    pipes.each { |server, _| hub.add(server) }
    hub.publish("show", {version: 7})
    received = pipes.map { |_, browser| browser.readpartial(1000) + (browser.wait_readable(1) ? browser.readpartial(1000) : "") }
    expect(received).to all(include("event: show\ndata: {\"version\":7}\n\n"))
  end

  it "sends to each line what it wants, put together once for those that want the same, and the newest to who comes late" do
    composed = []
    pipes = %w[full slow full].map { |wanted| pair.tap { |server, _| hub.add(server, wanted) } }
    hub.publish_each("frame") { |wanted, first| composed << [wanted, first] && ((wanted == "slow" && !first) ? nil : {wanted => 1}) }
    late, reader = pair
    hub.add(late, "slow")
    hub.publish("show", {version: 3})
    text = [*pipes.map(&:last), reader].map do |io|
      read = +""
      read << io.readpartial(1000) until read.include?("\"version\":3}\n\n")
      read
    end
    expect(text.map { |one| [one.include?("full"), one.include?("slow")] }).to eq([[true, false], [false, false], [true, false], [false, true]])
    expect(composed).to eq([["full", false], ["slow", false], ["slow", true]])
  end

  it "drops a browser that does not read, and goes on with the others" do
    (deaf, _kept), (server, browser) = pair, pair
    [deaf, server].each { |io| hub.add(io) }
    # Each frame is read before the next is sent: the reading browser never falls behind.
    text = String.new
    40.times do |i|
      hub.publish("frame", {number: i, text: "x" * 50_000})
      text << browser.readpartial(65_536).b until text.include?("\"number\":#{i},") && text.end_with?("\n\n")
    end
    expect(deaf).to be_closed
  end

  it "forgets a browser that has gone" do
    server, browser = pair
    hub.add(server)
    browser.close
    other, reader = pair
    hub.add(other)
    2.times { |i| hub.publish("show", {version: i}) }
    expect(Array.new(2) { reader.wait_readable(5) && reader.readpartial(1000) }.join).to include("\"version\":0")
  end
end

RSpec.describe Loomshuttle::Server::LiveFeed do
  let(:levels) { [-10.5, -20.0, -30.25, -40.0] }
  let(:engine) {
    link("status" => {"device" => {"state" => "running"}}, "meters" => {"peak_dbfs" => levels, "rms_dbfs" => levels, "held_dbfs" => levels, "clips" => [0, 1, 2, 3], "seen" => 1})
  }
  let(:deck) { link("deck" => {"playing" => nil}) }
  let(:desk) { Struct.new(:answers?, :peaks).new(true, [1.0, 0.5]) }
  # Told at once, on the spec's own thread.
  let(:hub) {
    Struct.new(:composed, :said) {
      def publish_each(event, &compose) = composed[event] = compose
      def publish(event, data) = said << [event, data]
    }.new({}, [])
  }
  let(:feed) { described_class.new(hub, engine: engine, deck: deck, desk: desk) }

  def link(said)
    Struct.new(:said) {
      def answers? = true
      def silent_s = nil
      def last(key) = said[key]
    }.new(said)
  end

  def wanted(**given) = Loomshuttle::Server::LevelsWanted.parse(rate_hz: nil, lanes: nil, desk: nil, **given)
  def levels_told(count, wanted) = Array.new(count) { feed.publish && hub.composed["levels"].call(wanted, false) }.compact

  it "tells the levels of the lanes that are wanted, and of desk and files where they are wanted" do
    first = levels_told(1, wanted(rate_hz: "20", lanes: "2,4-9"))[0]
    expect(first).to eq(lanes: "2,4", peak_dbfs: [-20.0, -40.0], held_dbfs: [-20.0, -40.0], clips: [1, 3])
    deck.said["deck"] = {"playing" => {"key" => "take/1", "position_frames" => 480, "peak_dbfs" => [-3.0]}}
    all = levels_told(1, wanted(rate_hz: "20", lanes: "all", desk: "true"))[0]
    expect(all).to include(lanes: "1-4", peak_dbfs: levels, desk_dbfs: [0.0, -6.0], files_dbfs: [-3.0], position_frames: 480)
    expect(levels_told(1, wanted(rate_hz: "20"))[0]).to include(lanes: "", position_frames: 480)
  end

  it "tells what changes seldom when it is another, and all of it to who comes" do
    twelve = wanted(rate_hz: "20", lanes: "1-2")
    expect(levels_told(3, twelve).map(&:keys)).to eq([%i[lanes peak_dbfs held_dbfs clips], %i[lanes peak_dbfs], %i[lanes peak_dbfs]])
    engine.said["meters"] = engine.said["meters"].merge("clips" => [5, 1, 2, 3])
    expect(levels_told(2, twelve).map { |told| told[:clips] }).to eq([[5, 1], nil])
    expect(hub.composed["levels"].call(twelve, true)).to include(held_dbfs: [-10.5, -20.0], clips: [5, 1])
  end

  it "tells levels as often as is wanted, evenly, and none to whoever wants none" do
    {"20" => 40, "7" => 14, "1" => 2}.each { |rate, count| expect(levels_told(40, wanted(rate_hz: rate)).size).to eq(count) }
    expect(levels_told(3, wanted)).to eq([])
  end

  it "tells what is another of the state at once where somebody wants to know, and the whole to who comes" do
    feed.publish
    whole = hub.composed["state"].call(wanted, true)
    expect(whole).to include(engine: {"device" => {"state" => "running"}}, desk: {answers: true})
    expect(hub.composed["state"].call(wanted, false)).to be_nil
    hub.said.clear
    engine.said["status"] = {"device" => {"state" => "lost"}}
    5.times { feed.publish }
    expect(hub.said).to eq([["change", {engine: {"device" => {"state" => "lost"}}}]])
    expect(hub.composed["state"].call(wanted, true)[:engine]).to eq("device" => {"state" => "lost"})
  end

  it "takes lanes as numbers and ranges, and says what is wrong with others" do
    expect(wanted(rate_hz: "5", lanes: "7,1-3,2").lanes).to eq([1, 2, 3, 7])
    expect(wanted(rate_hz: "5", lanes: "3,1-2")).to eql(wanted(rate_hz: "5", lanes: "1-3"))
    {"9-3" => /9-3/, "0" => /lanes from 1/, "1-5000" => /1 to 1024/}.each { |lanes, words| expect { wanted(rate_hz: "5", lanes: lanes) }.to raise_error(Loomshuttle::BadInput, words) }
  end
end

RSpec.describe Loomshuttle::Server::Views do
  let(:takes) { [] }
  attr_accessor :drifted

  def view(show)
    findings = Loomshuttle::Checks::All.findings(show, Loomshuttle::Checks::Facts.new(desk: drifted, takes: takes))
    described_class.show(Loomshuttle::Server::Store::Shows::Kept.new(id: 1, version: 3, show: show), findings: findings)
  end

  it "tells of each track its lane, its way back, its channel and what that listens to" do
    expect(view(show)[:tracks][8]).to include(name: "Accordion",
      lane: 9,
      return_lane: 9,
      channel: "desk/channel/9",
      feed: :stage,
      colour: "lichen")
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(show).edit.apply(show)
    expect(view(swung)).to include(feed: :recorder, swung: true)
    expect(view(swung)[:tracks].map { |track| track[:feed] }.uniq).to eq([:recorder])
  end

  it "says of a track without a lane or a way back that it has none" do
    bare = show(edit("clear", slot: "rec/track/12"), edit("clear", slot: "rec/lane-out/11"))
    expect(view(bare)[:tracks].last(2).map { |track| track.values_at(:lane, :return_lane) }).to eq([[11, nil], [nil, 12]])
  end

  # Beside the note that two lanes are free for the main mix.
  def found(show) = view(show)[:findings].reject { |finding| finding[:rule] == "spare-lanes" }

  it "finds takes at another rate, until somebody says that it is on purpose" do
    takes.replace([{number: 1, sample_rate_hz: 48_000}, {number: 2, sample_rate_hz: 44_100}, {number: 3, sample_rate_hz: 44_100}])
    finding = found(show).first
    expect(finding).to include(rule: "rate-match", step: "soundcheck", what: "Takes 2–3 are at 44.1 kHz, the show runs at 48 kHz.")
    acceptance = {who: "Ilse", at: "2026-11-25T12:00:00Z", digest: finding[:digest], reason: "for reference only"}
    left = show(edit("accept", key: finding[:key], acceptance: acceptance))
    expect(found(left).first[:accepted]).to include(who: "Ilse")
    takes << {number: 4, sample_rate_hz: 44_100}
    expect(found(left).first[:accepted]).to be_nil
    takes.replace(takes.first(1))
    expect(found(show)).to eq([])
  end

  it "finds that the desk drifted, where its state is known" do
    self.drifted = show.patch.with_power("box-a/mic/4", true)
    expect(found(show).map { |finding| finding[:what] }).to eq(["Box A socket 4 phantom power is on, planned: off."])
    expect(described_class.desk(show, drifted, "it hummed")).to include(count: 1, fault: "it hummed", fields: [{name: "phantom", label: "phantom power"}])
  end

  it "tells of each row where it is plugged and which channels it is on" do
    expect(view(show)[:rows][8]).to include(number: 9,
      socket: "box-a/mic/9",
      socket_label: "Box A socket 9",
      channels: ["9"],
      powered: true)
  end

  describe "of the rig" do
    let(:rig) { Loomshuttle::Server::Views::Rig.of(show) }

    it "counts the lanes of a cable each way, each once" do
      cables = rig[:cables].to_h { |cable| [cable[:a], cable.slice(:standard, :lanes, :a_to_b, :b_to_a, :lost)] }
      expect(cables["box-a/aes50"]).to eq(standard: "AES50", lanes: 48, a_to_b: 12, b_to_a: 2, lost: 0)
      # Twelve lanes and four mixes in, twelve tracks and three roles back.
      expect(cables["desk/card"]).to eq(standard: "USB", lanes: 32, a_to_b: 16, b_to_a: 15, lost: 0)
    end

    it "says which box or desk each listener is plugged in at, and where its meters begin" do
      expect(rig[:plugs]).to include({from: "box-a", to: "ears"}, {from: "desk", to: "stream"})
      expect(rig[:listeners_at]).to eq(32 + 16 + 2 + 6)
    end
  end
end

RSpec.describe Loomshuttle::Server::Contract do
  let(:app) { described_class.new(->(env) { [200, {}, [env["rack.input"]&.read.to_s]] }, File.join(Loomshuttle::ROOT, "api/openapi.yaml")) }

  let(:visitor) { Loomshuttle::Server::Visitor::HERE }

  def ask(method, path, body = nil)
    Rack::MockRequest.new(app).request(method, path, "loomshuttle.visitor" => visitor, **(body ? {:input => body, "CONTENT_TYPE" => "application/json"} : {}))
  end

  it "lets a good request through with its body untouched" do
    expect(ask("POST", "/api/shows/1/undo", "{\"version\":1}")).to have_attributes(status: 200, body: "{\"version\":1}")
  end

  it "leaves pages alone" do
    expect(ask("GET", "/shows/1/patch").status).to eq(200)
  end

  it "names every fault of a bad one" do
    error = JSON.parse(ask("POST", "/api/shows/1/edits", "{\"version\":0,\"edit\":{}}").body)["error"]
    expect(error["faults"].map { |fault| fault["field"] }).to match_array(%w[version edit])
  end

  {"bytes that are no UTF-8" => ["{\"version\":1,\"edit\":{\"kind\":\"rename\",\"id\":\"x\",\"name\":\"\xff\"}}", 400, "text in UTF-8"],
   "a NUL" => ["{\"version\":1,\"edit\":{\"kind\":\"rename\",\"id\":\"x\",\"name\":\"a\\u0000b\"}}", 400, "text without the sign NUL"],
   "a huge number" => ["{\"version\":1e999}", 400, "version"]}.each do |what, (body, status, allowed)|
    it "refuses #{what} in words" do
      answer = ask("POST", "/api/shows/1/edits", body)
      expect([answer.status, answer.body]).to match([status, include(allowed)])
    end
  end

  it "takes a backslash before what only looks like a NUL" do
    expect(ask("POST", "/api/shows/1/undo", "{\"version\":1,\"loom\":\"\\\\u0000\"}").status).to eq(200)
  end

  it "refuses a body without a type" do
    env = Rack::MockRequest.env_for("/api/shows/1/undo", :method => "POST", :input => "{\"version\":1}", "CONTENT_TYPE" => nil, "loomshuttle.visitor" => visitor)
    env.delete("CONTENT_TYPE")
    expect(app.call(env).first).to eq(415)
  end

  it "refuses a wrong method and a wrong type" do
    expect(ask("DELETE", "/api/alarms").status).to eq(405)
    expect(Rack::MockRequest.new(app).post("/api/shows/1/undo", :input => "version=1", "CONTENT_TYPE" => "text/plain", "loomshuttle.visitor" => visitor).status).to eq(415)
  end
end

RSpec.describe Loomshuttle::Server::DeskWatch do
  let(:desk) { Struct.new(:patch, :reads) { def sums = [patch.checksum, "gear"] and def state = (self.reads += 1) && patch }.new(show.patch, 0) }
  let(:changes) { Thread::Queue.new }
  let(:gears) { Thread::Queue.new }
  let(:turned) { show(edit("connect", slot: "desk/output/1", from: "desk/bus/1")).patch }
  let!(:watch) { described_class.new(desk, busy: -> { @busy }, plan: -> { show.patch }, stands: ->(gear) { gears << gear }) { changes << true } }

  it "reads nothing while the desk has what is planned, and all of it when somebody turned something" do
    changes.pop
    expect([watch.state, desk.reads, gears.pop]).to eq([show.patch, 0, "gear"])
    desk.patch = turned
    changes.pop
    expect([watch.state, desk.reads]).to eq([turned, 1])
  end

  it "knows nothing from the moment that the desk is told something until it has looked again" do
    changes.pop
    @busy = true
    desk.patch = turned
    watch.forget
    expect(watch.state).to be_nil
    @busy = false
    changes.pop
    expect(watch.state).to eq(turned)
  end
end

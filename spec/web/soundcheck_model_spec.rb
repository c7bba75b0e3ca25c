# frozen_string_literal: true

require "core_helper"
require "support/web_model"

# What the soundcheck's screens compute by themselves, without a browser.
RSpec.describe "The web's model of a soundcheck" do
  describe "the player" do
    def player(...) = WebModel.call("player", ...)

    it "reads times as people type them" do
      expect(["1:23", "83", " 0:05,5", "1:02:03", "", "1:2:3:4", "-3", "abc", "1:234"].map { |text| player("typedTime", text) }).to eq([83, 83, 5.5, 3723, nil, nil, nil, nil, nil])
    end

    it "goes round from a mark to the next, or to the end, and finds the mark beside a place" do
      marks = [{frame: 4_000}, {frame: 1_000}, {frame: 9_000}]
      expect([1_000, 4_000, 9_000].map { |at| player("betweenMarks", marks, at, 20_000) }).to eq([[1_000, 4_000], [4_000, 9_000], [9_000, 20_000]])
      # Right behind a mark the one before that is meant.
      expect([[4_100, -1], [4_900, -1], [500, -1], [4_000, 1], [9_000, 1]].map { |at, way| player("markBeside", marks, at, way, 500) }).to eq([1_000, 4_000, 0, 9_000, nil])
      expect(player("markBeside", [], 100, 1, 0)).to be_nil
    end

    it "lays all tracks over each other, those of other lengths and with holes too" do
      tracks = [{track: "a", points: [[-5, 3], nil, [-1, 1]]}, {track: "b", points: [[-2, 9]]}]
      expect(player("envelope", {tracks: tracks})).to eq([[-5, 9], [0, 0], [-1, 1]])
      expect(player("envelope", nil)).to eq([])
    end
  end

  describe "the way back as it was heard" do
    def arrival(channel, **more) = {channel: channel, gain_db: 0.0, inverted: false, latency_frames: 137, coloured: false, mix: false, **more}
    def lane(number, state, heard, faults = []) = {lane: number, name: "Source #{number}", colour: nil, planned: [], state: state, faults: faults, fine: state == "right" && faults.empty?, heard: heard}

    let(:proof) do
      {lanes: [lane(1, "right", [arrival("c/1")]), lane(2, "crossed", [arrival("c/3")]), lane(3, "crossed", [arrival("c/2")]), lane(4, "dead", []), lane(5, "unknown", []),
        lane(6, "right", [arrival("c/4", latency_frames: 233, inverted: true, gain_db: -6.0)], %w[turned level late]), lane(7, "stage", []), lane(8, "mix", [arrival("m/1", mix: true)])],
       ends: %w[c/1 c/2 c/3 c/4 m/1].map { |id| {id: id, label: id.upcase, mix: id.start_with?("m")} }, round_trip_frames: 137}
    end

    it "draws what was heard, and a loose end for what should have been; not what is silent on purpose" do
      threads = WebModel.call("proof", "heardPicture", proof)["threads"].map { |one| one.values_at("key", "fromRow", "toRow", "wrong") }
      expect(threads).to eq([["1 c/1", 0, 0, false], ["2 c/3", 1, 2, true], ["3 c/2", 2, 1, true], ["4", 3, nil, true], ["5", 4, nil, false],
        ["6 c/4", 5, 3, false], ["8 m/1", 7, 4, false]])
    end

    it "says level, polarity and latency beside each channel, and which of them are odd" do
      cells = WebModel.call("proof", "heardPicture", proof)["cells"]
      said = cells.map { |cell| cell.values_at("row", "level", "polarity", "latency") + cell["odd"].values_at("level", "polarity", "latency") }
      expect(said).to eq([[0, "0.0", "as sent", "137", false, false, false], [2, "0.0", "as sent", "137", false, false, false], [1, "0.0", "as sent", "137", false, false, false],
        [3, "-6.0", "turned over", "137 + 96", true, true, true]])
    end

    it "says the same in words for a phone" do
      words = WebModel.evaluate("proof", "given.map((lane) => module.laneWords(lane, (id) => id.toUpperCase()))", proof[:lanes])
      expect(words).to eq(["C/1", "C/3", "C/2", "does not arrive", "could not be heard", "C/4: turned over, not at its level, not with the others", "silent, as planned", "M/1"])
      expect(WebModel.call("proof", "framesMs", 480, 48_000)).to eq("10.0 ms")
    end
  end

  describe "the doors" do
    def reminded(minutes) = WebModel.evaluate("doors", "module.reminder(given[0], new Date(given[1]))", ["2026-11-26T19:30:00Z", (Time.utc(2026, 11, 26, 19, 30) - minutes * 60).iso8601])

    it "remind the nearer the louder, and not of yesterday" do
      expect([31, 30, 11, 10, 1, 0, -90, -721].map { |minutes| reminded(minutes)&.fetch("loudness") }).to eq([nil, 1, 1, 2, 2, 3, 3, nil])
      expect(reminded(1)["words"]).to include("in 1 minute:")
      expect(reminded(5)["words"]).to include("in 5 minutes:")
      expect(WebModel.call("doors", "reminder", nil, "2026-11-26T19:30:00Z")).to be_nil
    end

    it "are the next time that a clock shows it" do
      script = "(() => { const at = module.nextAt(given[0], new Date(2026, 10, 26, 18, 0)); return [at.getDate(), module.timeOfDay(at)]; })()"
      expect(["19:30", "18:00", "07:05"].map { |time| WebModel.evaluate("doors", script, [time]) }).to eq([[26, "19:30"], [27, "18:00"], [27, "07:05"]])
    end
  end

  describe "files on the loom" do
    def file(number, title, channels: 1, names: nil) = {number: number, title: title, holds: {channels: channels, names: names}}

    def track(number, **more)
      {id: "rec/track/#{number}", number: number, name: "Track #{number}", colour: "weld", stitch: "solid", row: "list/row/#{number}", return_lane: number,
       channel: "desk/channel/#{number}", **more}
    end

    let(:plan) { {files: [file(1, "kick.wav"), file(2, "room.wav", channels: 2, names: ["near", ""]), file(3, "broken.wav").merge(holds: nil)], tracks: (1..4).map { |n| {id: "rec/track/#{n}", name: "Track #{n}"} }} }
    let(:show_data) { {tracks: [track(1), track(2), track(3, return_lane: nil), track(4, channel: nil)]} }

    def laid(settled, from, to, count = 1) = WebModel.call("importLoom", "laidOn", plan, settled, show_data, from, to, count)

    it "has a place for each channel that could be read, and threads on to lanes and channels" do
      loom = WebModel.evaluate("importLoom", "module.importLoom(given[0], given[1], new Set(given[2]), given[3])", [plan, {"1#1" => "rec/track/1", "2#2" => "rec/track/3"}, ["1#1"], show_data])
      expect(loom["posts"].first["knots"].map { |knot| knot["label"] }).to eq(["kick", "room · near", "room · 2"])
      expect(loom["posts"].map { |post| post["knots"].size }).to eq([3, 4, 3, 3])
      expect(loom["strands"].map { |strand| strand.values_at("from", "to", "colour", "note") }).to eq([
        ["files/part/1", "rec/track/1", "weld", nil], ["files/part/3", "rec/track/3", nil, "is it so?"],
        ["rec/track/1", "back/lane/1", "weld", nil], ["rec/track/2", "back/lane/2", "weld", nil], ["rec/track/4", "back/lane/4", "weld", nil],
        ["back/lane/1", "desk/channel/1", "weld", nil], ["back/lane/2", "desk/channel/2", "weld", nil]
      ])
    end

    it "leaves away what all names begin with, up to where a word ends" do
      start = ->(*titles) { WebModel.call("importLoom", "sharedStart", titles) }
      expect(start["Barn_T04_01_Zimbal-L.wav", "Barn_T04_02_Zimbal-R.wav", "Barn_T04_12_Sn.wav"]).to eq("Barn_T04_")
      expect([start["Kick.wav", "Kick 2.wav"], start["Tom 1.wav"], start["a.wav", "b.wav"]]).to eq(["", "", ""])
    end

    it "has the thread of a track that shares a lane on that lane, and on no channel of its own" do
      data = {tracks: [track(1), track(2, return_lane: 1, beside: "rec/track/1", sum_db: -3)]}
      loom = WebModel.evaluate("importLoom", "module.importLoom(given[0], given[1], new Set(), given[2])", [plan, {}, data])
      expect(loom["strands"].map { |strand|
        "#{strand["from"]} > #{strand["to"]}"
      }).to eq(["rec/track/1 > back/lane/1", "rec/track/2 > back/lane/1", "back/lane/1 > desk/channel/1"])
    end

    it "says with whom a track comes back, and at what; only one that carries no other can be summed with another" do
      alone = {beside: nil, sum_db: nil}
      tracks = [track(1, beside: nil, sum_db: -4.5), track(2, beside: "rec/track/1", sum_db: -4.5, return_lane: 1), track(3, **alone), track(4, **alone, return_lane: nil)]
      words, sharers = %w[returnWords sharers].map { |name| tracks.map { |one| WebModel.call("returns", name, tracks, one) } }
      expect(words).to eq(["lane 1, with Track 2 at −4.5 dB", "lane 1, with Track 1 at −4.5 dB", "lane 3", "no lane"])
      expect(sharers.map { |some| some.map { |other| other["number"] } }).to eq([[], [1, 3], [1], [1, 3]])
    end

    it "lays a file from either end, takes off whatever was on the track, and a run one to one onward" do
      expect(laid({"2#1" => "rec/track/2"}, "files/part/1", "rec/track/2")).to eq([{"1#1" => "rec/track/2"}, ["1#1"]])
      expect(laid({}, "rec/track/4", "files/part/3")).to eq([{"2#2" => "rec/track/4"}, ["2#2"]])
      expect(laid({}, "files/part/1", "rec/track/2", 8).first).to eq("1#1" => "rec/track/2", "2#1" => "rec/track/3", "2#2" => "rec/track/4")
      expect(laid({}, "files/part/2", "rec/track/4", "end").first).to eq("2#1" => "rec/track/4")
      expect([laid({}, "files/part/1", "desk/channel/1"), laid({}, "rec/track/1", "back/lane/1"), laid({}, "files/part/9", "rec/track/1")]).to eq([nil, nil, nil])
    end

    it "begins a file as much later as it was heard, and has the others wait where that is before the take" do
      later = ->(frames) { WebModel.call("importLoom", "startingLater", {"1" => 0, "2" => 50, "3" => 7}, 3, 2, frames) }
      expect([later[20], later[-50], later[-80]]).to eq([{"1" => 0, "2" => 50, "3" => 70}, {"1" => 0, "2" => 50, "3" => 0}, {"1" => 30, "2" => 80, "3" => 0}])
    end

    it "takes off what was laid, from either end, and says what is left over" do
      settled = {"1#1" => "rec/track/1"}
      off = ->(from, to) { WebModel.call("importLoom", "takenOff", plan, settled, from, to) }
      expect([off["files/part/1", "rec/track/1"], off["rec/track/1", nil], off["rec/track/2", nil], off["files/part/2", nil]]).to eq([{}, {}, nil, nil])
      expect(WebModel.call("importLoom", "leftOver", plan, settled)).to eq("silent" => ["Track 2", "Track 3", "Track 4"], "out" => ["room · near", "room · 2"])
    end
  end
end

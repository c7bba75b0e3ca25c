# frozen_string_literal: true

require "core_helper"

RSpec.describe "Edits that refuse" do
  # name => [edit, field, what the reason says]
  {
    "plugging a row that is not there" => [["plug", {row: "list/row/99", socket: "box-a/mic/1"}], "row", /input list has no list\/row\/99/],
    "plugging into an output" => [["plug", {row: "list/row/1", socket: "box-a/out-socket/1"}], "socket", /wants a microphone socket/],
    "plugging into a socket that the box lacks" => [["plug", {row: "list/row/1", socket: "box-a/mic/17"}], "socket", /cannot be plugged in at/],
    "sending a channel that is not there" => [["send", {channel: "desk/channel/33", mix: "desk/bus/1"}], "channel", /no channel desk\/channel\/33/],
    "sending to what is no mix" => [["send", {channel: "desk/channel/1", mix: "desk/output/1"}], "mix", /can be sent to: bus, main/],
    "sending to a mix of another number" => [["send", {channel: "desk/channel/1", mix: "desk/bus/17"}], "mix", /cannot be sent to bus 17/],
    "sending from a tap that is not offered" => [["send", {channel: "desk/channel/1", mix: "desk/bus/1", tap: "raw"}], "tap", /no tap "raw"/],
    "a send level out of range" => [["send", {channel: "desk/channel/1", mix: "desk/bus/1", level_db: 12}], "level_db", /between -90.0 and 10.0 dB, not at 12.0/],
    "arming a track that is not there" => [["arm", {tracks: ["rec/track/1", "rec/track/30"], armed: true}], "tracks", /no rec\/track\/30/],
    "a name of nothing" => [["rename", {id: "rec/track/1", name: "  "}], "name", /1 to 300 characters/],
    "a name of 301 characters" => [["rename", {id: "rec/track/1", name: "x" * 301}], "name", /1 to 300 characters/],
    "a name with a line break" => [["rename", {id: "rec/track/1", name: "a\nb"}], "name", /no control characters/],
    "a name for nothing" => [["rename", {id: "desk/channel/99", name: "x"}], "id", /no row, track or place desk\/channel\/99/],
    "a split of no socket" => [["split", {socket: "box-a/mic/99"}], "socket", /no box-a\/mic\/99/],
    "a rate of no trade" => [["device_rate", {device: "rec", rate_hz: 22_050}], "rate_hz", /22050 Hz is no sample rate.*44100, 48000/],
    "a rate for no device" => [["device_rate", {device: "moon", rate_hz: 48_000}], "device", /no device moon/],
    "a run over the end of a field" => [["run", {slot: "desk/output/15", from: "desk/bus/1", count: 4}], "slot", /no desk\/output\/17/],
    "a run over the end of its sources" => [["run", {slot: "desk/output/1", from: "desk/bus/15", count: 4}], "from", /ends at 16/],
    "restoring what is no slot" => [["restore", {slots: {"desk/mic/1" => nil}}], "slot", /no desk\/mic\/1 to patch/]
  }.each do |name, ((kind, fields), field, why)|
    it "refuse #{name} and say why" do
      expect(edit(kind, **fields).apply(show)).to have_attributes(class: Loomshuttle::Refusal, field: field, why: why)
    end
  end

  it "take back exactly what was there: another level, another socket, another tap" do
    before = show
    [edit("send", channel: "desk/channel/1", mix: "desk/bus/1", level_db: 3),
      edit("send", channel: "desk/channel/1", mix: "desk/bus/9"), edit("plug", row: "list/row/1", socket: nil),
      edit("connect", slot: "desk/output/1", from: "desk/main/1", tap: "pre-fader"), edit("arm", tracks: %w[rec/track/1 rec/track/2], armed: false)].each do |one|
      expect(one.inverse(before).apply(one.apply(before))).to eq(before)
    end
  end

  it "lay a run over blocks whole" do
    after = show(edit("run", slot: "desk/channel/1", from: "desk/mic/1", count: 16))
    expect((1..16).map { |n| after.patch.slots["desk/channel/#{n}"].from }).to eq((1..16).map { |n| "desk/mic/#{n}" })
  end

  it "name a place of the rig, and say its name with its number" do
    expect(show(edit("rename", id: "desk/bus/3", name: "Foldback")).label("desk/bus/3")).to eq("Foldback (bus 3)")
  end
end

RSpec.describe Loomshuttle::Value do
  let(:type) { described_class.of(:x, y: 2) }

  it "is frozen, copies with changes, and compares by what it holds" do
    one = type.new(x: 1)
    expect([one.frozen?, one.with(y: 3).to_h, one == type.new(x: 1, y: 2)]).to eq([true, {x: 1, y: 3}, true])
  end

  it "asks for what has no default" do
    expect { type.new(y: 1) }.to raise_error(ArgumentError, "missing x")
  end
end

RSpec.describe Loomshuttle::BadInput do
  it "says field, value and what is allowed, and cuts what is long" do
    expect(described_class.new(field: "lane", value: 33, allowed: "1 to 32").message).to eq("lane: 33 is not usable; 1 to 32")
    expect(described_class.new(field: "name", value: "x" * 500, allowed: "less").message.size).to be < 130
    expect(described_class.new(field: "bytes", value: "\xFF\x00", allowed: "text").message).to be_valid_encoding
  end
end

RSpec.describe Loomshuttle::Checks::Runs do
  {[9, 10, 11, 12] => "9–12", [3] => "3", [1, 2, 5, 7, 8] => "1–2, 5, 7–8", [4, 2] => "2, 4"}.each do |numbers, text|
    it("writes #{numbers} as #{text}") { expect(described_class.text(numbers)).to eq(text) }
  end
end

RSpec.describe Loomshuttle::Endpoint do
  it "is its text, there and back" do
    expect(described_class.parse("desk/channel/9")).to have_attributes(device: "desk", family: "channel", number: 9, id: "desk/channel/9", field: "desk/channel")
    expect(described_class.parse("desk/channel/9").at(10)).to eq("desk/channel/10")
    expect(described_class.parse("songs/role/click").number).to eq("click")
  end

  ["", "desk", "desk/channel", "desk/channel/9/1", "desk//9", nil].each do |text|
    it("refuses #{text.inspect}") { expect { described_class.parse(text) }.to raise_error(Loomshuttle::BadInput, %r{device/family/number}) }
  end
end

RSpec.describe Loomshuttle::Edits::MakeTracks do
  let(:bare) { show.with(tracks: {}.freeze) }

  it "makes a track of every slot at which a source arrives, meant for it and armed" do
    made = edit("make_tracks", computer: "rec").apply(bare)
    expect(made.tracks.values.first(12)).to eq(show.tracks.values.first(12).map { |track| track.with(armed: true) })
    expect(rules(made)).to eq(rules(show))
  end

  it "leaves tracks alone that are there, and says when none is missing" do
    renamed = edit("make_tracks", computer: "rec").apply(show(edit("rename", id: "rec/track/1", name: "Drone")).then { |now| now.with(tracks: now.tracks.except("rec/track/2").freeze) })
    expect(renamed.tracks.values_at("rec/track/1", "rec/track/2").map(&:name)).to eq(["Drone", "Cimbalom L"])
    expect(edit("make_tracks", computer: "rec").apply(show).why).to eq("No source arrives at Logbook that has no track there yet.")
    expect(edit("make_tracks", computer: "desk").apply(show)).to have_attributes(field: "computer", allowed: "rec")
  end
end

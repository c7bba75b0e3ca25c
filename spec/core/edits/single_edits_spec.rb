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
    "a device by a name with capitals" => [["device", {id: "Box Z", profile: "stage-box-16x8"}], "id", /"Box Z" cannot name a device; small letters/],
    "a device that would be taken for the input list" => [["device", {id: "list", profile: "stage-box-16x8"}], "id", /cannot name a device/],
    "a device of no profile" => [["device", {id: "box-z", profile: "box-of-wonders"}], "profile", /no profile "box-of-wonders" to make box-z of/],
    "a device that turns into another" => [["device", {id: "box-a", profile: "stage-box-32x16"}], "profile", /take it out and add another/],
    "a device without a name" => [["device", {id: "box-a", name: " "}], "name", /A device's name has/],
    "a device at a rate of no trade" => [["device", {id: "box-a", rate_hz: 22_050}], "rate_hz", /22050 Hz is no sample rate/],
    "a device that follows through a port it has not" => [["device", {id: "box-a", clock: "madi"}], "clock", /cannot follow through "madi"; it can lead, or follow through: aes50/],
    "a mode of a port it has not" => [["device", {id: "rec", modes: {moon: "2x2"}}], "modes", /Logbook has no port moon/],
    "a setting that it has not" => [["device", {id: "box-a", settings: {tilt: 3}}], "settings", /Box A has no setting tilt/],
    "a setting of a value between the choices" => [["device", {id: "box-a", settings: {output_offset: 5}}], "settings/output_offset", /can be 0, 8, .*not 5/],
    "a cable from a port to itself" => [["cable", {a: "desk/aes50-b", b: "desk/aes50-b"}], "b", /aes50-b/],
    "a cable to no port" => [["cable", {a: "desk/aes50-b", b: "box-a/moon"}], "b", /moon/],
    "a cable from a port that is taken" => [["cable", {a: "box-a/aes50", b: "desk/aes50-b"}], "a", /Box A AES50 has a cable already, to Quay desk AES50 A/],
    "a cable to a port that is taken" => [["cable", {a: "box-a/chain", b: "desk/aes50-a"}], "b", /Quay desk AES50 A has a cable already/],
    "a cable between two that only send" => [["group", {edits: [{kind: "device", id: "lines", profile: "line-interface-8"}, {kind: "cable", a: "lines/lines", b: "lines/lines"}]}],
      "b", /joins nothing/],
    "a cable between two standards" => [["cable", {a: "desk/aes50-b", b: "rec/interface"}], "b", /AES50.*USB|USB.*AES50/],
    "a cable of no length" => [["cable", {a: "box-a/aes50", b: "desk/aes50-a", length_m: -1}], "length_m", /length_m cannot be -1/],
    "no cable" => [["remove_cable", {a: "desk/aes50-b", b: "box-a/chain"}], "a", /no cable between desk\/aes50-b and box-a\/chain/],
    "spreading a row that is not there" => [["spread", {rows: ["list/row/99"], boxes: ["box-a"]}], "rows", /no list\/row\/99/],
    "spreading over what has no sockets" => [["spread", {rows: ["list/row/1"], boxes: ["rec"]}], "boxes", /Logbook has no microphone sockets/],
    "spreading over nothing" => [["spread", {rows: ["list/row/1"], boxes: []}], "boxes", /need a box/],
    "recalling no scene" => [["recall", {scene: "Matinee"}], "scene", /no scene "Matinee"/],
    "recalling no field" => [["recall", {scene: {slots: {}}, fields: ["desk/reverb"]}], "fields", /no field "desk\/reverb" to recall/],
    "recording for no purpose" => [["record_taps", {desk: "desk", purpose: "fun"}], "purpose", /not for "fun"/],
    "recording from no desk" => [["record_taps", {desk: "box-a", purpose: "mix"}], "desk", /no desk box-a/],
    "recording channels where lanes take sockets" => [["record_taps", {desk: "desk", purpose: "mix"}], "desk", /take sockets in blocks: they are raw already/],
    "tracks of no computer" => [["make_tracks", {computer: "box-a"}], "computer", /no recording computer box-a/],
    "tracks where nothing new arrives" => [["make_tracks", {computer: "rec"}], "computer", /no track there yet/],
    "a row of no number" => [["rows", {rows: {"list/box/0" => {name: "x"}}}], "row", /no row of an input list/],
    "taking out a row that is not there" => [["rows", {rows: {"list/row/40" => nil}}], "row", /no list\/row\/40 to take out/],
    "a new row without a name" => [["rows", {rows: {"list/row/40" => {mic: "ribbon"}}}], "name", /A new row needs a name/],
    "a column that no list has" => [["rows", {rows: {"list/row/1" => {lamp: "on"}}}], "lamp", /no column "lamp"/],
    "phantom power, perhaps" => [["rows", {rows: {"list/row/1" => {phantom: "maybe"}}}], "phantom", /Row 1, phantom: "maybe" is not usable/],
    "a row paired with itself" => [["rows", {rows: {"list/row/1" => {pair: "list/row/1"}}}], "pair", /Row 1 cannot be paired with itself/],
    "moving a row out of the list" => [["move_rows", {rows: ["list/row/1"], to: 40}], "to", /no place 40 in a list of 12 rows/],
    "moving a row that is not there" => [["move_rows", {rows: ["list/row/40"], to: 1}], "rows", /no list\/row\/40/],
    "phantom power at an output" => [["power", {sockets: ["box-a/out-socket/1"], on: true}], "sockets", /no microphone socket/],
    "a tap without a source" => [["lay", {takes: {"desk/output/16" => {tap: "pre-fader"}}}], "takes/desk/output/16", /takes nothing, so it has no tap/],
    "a layout of no field" => [["copy_layout", {from_field: "desk/reverb", to_field: "desk/card-send"}], "from_field", /no field desk\/reverb to copy/],
    "deleting a scene that is not there" => [["scene", {name: "Matinee", remove: true}], "name", /no scene "Matinee"/],
    "deleting a profile that is not there" => [["profile", {name: "own-desk"}], "name", /own-desk/],
    "a show at a rate of no trade" => [["show_rate", {rate_hz: 22_050}], "rate_hz", /22050/],
    "a role that no song has" => [["connect", {slot: "rec/lane-out/40", from: "songs/role/none"}], "from", /No song has the role none/],
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
      expect(undo(one, before).apply(one.apply(before))).to eq(before)
    end
  end

  it "lay a run over blocks whole" do
    after = show(edit("run", slot: "desk/channel/1", from: "desk/mic/1", count: 16))
    expect((1..16).map { |n| after.patch.slots["desk/channel/#{n}"].from }).to eq((1..16).map { |n| "desk/mic/#{n}" })
  end

  it "name a place of the rig, and say its name with its number" do
    expect(show(edit("rename", id: "desk/bus/3", name: "Foldback")).label("desk/bus/3")).to eq("Foldback (bus 3)")
  end

  it "renames a track with its row while both are called the same, and leaves one with a name of its own" do
    named = show(edit("rename", id: "list/row/3", name: "Psaltery"), edit("rename", id: "rec/track/4", name: "Bass horn"),
      edit("rows", rows: {"list/row/4" => {"name" => "Serpent"}, "list/row/5" => {"name" => "Drum"}}))
    expect(named.tracks.values_at("rec/track/3", "rec/track/4", "rec/track/5").map(&:name)).to eq(["Psaltery", "Bass horn", "Drum"])
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

RSpec.describe Loomshuttle::Words::Runs do
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

RSpec.describe Loomshuttle::Edits::Spread do
  # U7: an equal share is no share where a box is smaller.
  it "spreads rows over unequal boxes wherever they fit" do
    many = show(edit("rows", rows: (13..48).to_h { |n| ["list/row/n#{n}", {name: "Source #{n}", number: n}] }), edit("rows", rows: {"list/row/n13" => {pair: "list/row/n14"}}))
    [%w[desk box-a], %w[box-a desk]].each do |boxes|
      after = edit("spread", rows: many.rows.keys, boxes: boxes).apply(many)
      expect(after).to be_a(Loomshuttle::Show), after.respond_to?(:why) ? after.why : ""
      expect(after.patch.plugs.values.uniq.size).to eq(48)
      sides = %w[list/row/n13 list/row/n14].map { |row| Loomshuttle::Endpoint.parse(after.patch.plugs[row]) }
      expect([sides.map(&:device).uniq.size, sides[1].number - sides[0].number]).to eq([1, 1])
    end
  end
end

RSpec.describe Loomshuttle::Edits::MakeTracks do
  let(:bare) { show.with(tracks: {}.freeze) }

  it "makes a track of every slot at which a source arrives, meant for it and armed" do
    made = edit("make_tracks", computer: "rec").apply(bare)
    expect(made.tracks.values.first(12)).to eq(show.tracks.values.first(12).zip(made.tracks.keys).map { |track, id| track.with(id: id, armed: true) })
    expect(rules(made)).to eq(rules(show))
  end

  it "leaves tracks alone that are there, and says when none is missing" do
    renamed = edit("make_tracks", computer: "rec").apply(show(edit("rename", id: "rec/track/1", name: "Drone")).then { |now| now.with(tracks: now.tracks.except("rec/track/2").freeze) })
    expect(%w[rec/track/1 rec/track/2].map { |place| renamed.track_at(place).name }).to eq(["Drone", "Cimbalom L"])
    expect(edit("make_tracks", computer: "rec").apply(show).why).to eq("No source arrives at Logbook that has no track there yet.")
    expect(edit("make_tracks", computer: "desk").apply(show)).to have_attributes(field: "computer", allowed: "rec")
  end
end

# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Compare::Patches do
  def words(*edits) = described_class.of(show, show.patch, show(*edits).patch).map { |change| change[:words] }

  {"a run whose sources count on" => ["run",
    {slot: "desk/channel/17", from: "desk/aes50-a-in/1", count: 8},
    ["Channel 17–24 take Box A socket 1–8, raw, before: local socket 1–8, raw"]],
   "neighbours that differ in their delay" => ["lay", {takes: {"desk/output/9" => {delay_ms: 4}, "desk/output/10" => {delay_ms: 5}}},
     ["Output 9 takes Booth wedge (bus 1), post-fader, 4.0 ms, before: Booth wedge (bus 1), post-fader", "Output 10 takes Drummer (bus 2), post-fader, 5.0 ms, before: Drummer (bus 2), post-fader"]],
   "sends of neighbours to one mix" => ["group",
     {edits: (1..3).map { |n| {kind: "send", channel: "desk/channel/#{n}", mix: "desk/bus/9", level_db: -6} }},
     ["Channel 1–3 to bus 9 are -6.0 dB, post-fader, before: off"]],
   "phantom power of two sockets side by side" => ["power", {sockets: %w[box-a/mic/4 box-a/mic/5]}, ["Box A socket 4–5 phantom power is on, before: off"]]}.each do |what, (kind, fields, told)|
    it("tells #{what}") { expect(words(edit(kind, **fields))).to eq(told) }
  end

  it "names every place of a run, and tells both ways" do
    after = show(edit("run", slot: "desk/channel/17", from: "desk/aes50-a-in/1", count: 8))
    there, back = described_class.of(show, show.patch, after.patch).first, described_class.of(show, after.patch, show.patch).first
    expect(there[:places]).to eq((17..24).map { |n| "desk/channel/#{n}" })
    expect([there[:before], there[:after]]).to eq([back[:after], back[:before]])
  end
end

RSpec.describe Loomshuttle::Patch::DeskSide do
  it "lays the desk's part of one patch over another, and leaves computers and listeners alone" do
    other = show(edit("swap", one: "desk/output/1", other: "desk/output/2"),
      edit("lay", takes: {"rec/lane-out/1" => nil, "pa/in/1" => nil}),
      edit("power", sockets: ["box-a/mic/4"])).patch
    over = described_class.over(show, show.patch, other)
    expect([over.slots["desk/output/1"], over.powered]).to eq([other.slots["desk/output/1"], other.powered])
    expect(over.slots.values_at("rec/lane-out/1", "pa/in/1")).to eq(show.patch.slots.values_at("rec/lane-out/1", "pa/in/1"))
    expect(described_class.over(show, show.patch, show.patch)).to eq(show.patch)
  end
end

RSpec.describe Loomshuttle::Compare::Shows do
  {"a cable" => ["cable",
    {a: "box-a/aes50", b: "desk/aes50-a", length_m: 55},
    "The cable from box-a/aes50 to desk/aes50-a: length m is 55, before: 40"],
   "the sample rate" => ["show_rate", {rate_hz: 44_100}, "The show's sample rate hz is 44100, before: 48000"],
   "a scene" => ["scene", {name: "Afternoon"}, "The scene Afternoon is new"],
   "where a mix is meant to leave" => ["land",
     {mix: "desk/main/1", sockets: ["desk/out-socket/1"]},
     "Where Main L (main 1) leaves is other, before: nothing"],
   "a track" => ["arm", {tracks: ["rec/track/1"], armed: false}, "Track 1 (Hurdy-gurdy): armed is off, before: on"],
   "an own profile" => ["profile", {name: "own", data: Loomshuttle::Shelf.profiles["stage-box-16x8"].to_data}, "The profile own is new"],
   "what is left on purpose" => ["accept",
     {key: "shared:x", acceptance: {who: "engineer", at: "2026-11-24", digest: "x"}},
     "What is left on purpose, shared:x is new"]}.each do |what, (kind, fields, told)|
    it("tells #{what}") { expect(described_class.of(show, show(edit(kind, **fields))).map { |change| change[:words] }).to include(told) }
  end

  it "tells a song that is gone from the set list" do
    after = show(edit("set_list", songs: []))
    expect(described_class.of(show, after).map { |change| change[:words] }).to eq(["The song Low tide waltz is gone"])
  end

  it "tells gear, rows and names as people call them" do
    after = show(edit("device", id: "box-b", profile: "stage-box-16x8", name: "Box B"),
      edit("rows", rows: {"list/row/1" => {stand: ""}, "list/row/12" => nil}),
      edit("rename", id: "desk/bus/9", name: "Lamp"),
      edit("device", id: "rec", name: "Diary"))
    expect(described_class.of(show, after).map { |change| change[:words] }).to include("Box B is new",
      "Row 1 (Hurdy-gurdy): stand is nothing, before: short boom",
      "Row 12 (Narrator) is gone",
      "The name of bus 9 is Lamp, before: nothing",
      "Logbook: name is Diary, before: Logbook")
  end
end

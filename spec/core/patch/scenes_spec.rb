# frozen_string_literal: true

require "core_helper"

# Scenes: kept, compared, recalled; the plan against what the desk has.
RSpec.describe "Scenes" do
  let(:kept) { show(edit("scene", name: "Afternoon")) }
  let(:changed) do
    [edit("swap", one: "desk/channel/1", other: "desk/channel/17"),
      edit("plug", row: "list/row/4", socket: "desk/mic/30"),
      edit("send", channel: "desk/channel/9", mix: "desk/bus/1", on: false)].reduce(kept) do |now, one|
      one.apply(now)
    end
  end

  it "are recalled whole" do
    expect(edit("recall", scene: "Afternoon").apply(changed).patch).to eq(kept.patch)
  end

  it "are recalled by field" do
    only = edit("recall", scene: "Afternoon", fields: ["desk/channel"]).apply(changed).patch
    expect([only.slots, only.plugs["list/row/4"], only.send_of("desk/channel/9", "desk/bus/1")]).to eq([kept.patch.slots, "desk/mic/30", nil])
  end

  it "leave safe rows alone: their socket, and every slot that carries them" do
    safe = edit("rows", rows: {"list/row/4" => {safe: true}, "list/row/9" => {safe: true}}).apply(changed)
    recalled = edit("recall", scene: "Afternoon").apply(safe)
    expect(recalled.patch.plugs["list/row/4"]).to eq("desk/mic/30")
    expect(recalled.patch.send_of("desk/channel/9", "desk/bus/1")).to be_nil
    expect(recalled.patch.slots["desk/channel/1"]).to eq(kept.patch.slots["desk/channel/1"])
  end

  it "say in words what changed" do
    words = Loomshuttle::Compare::Patches.of(changed, kept.patch, changed.patch).map { |change| change[:words] }
    expect(words).to include("Tuba is plugged in at local socket 30, before: Box A socket 4",
      "Channel 1–8 take local socket 1–8, raw, before: Box A socket 1–8, raw",
      "Channel 9 to Booth wedge (bus 1) is off, before: -12.0 dB, pre-fader")
    expect(words.size).to eq(4)
    expect(Loomshuttle::Compare::Patches.of(changed, changed.patch, changed.patch)).to eq([])
  end

  it "are refused by a name or field that is not there" do
    expect(edit("recall", scene: "Evening").apply(changed)).to have_attributes(why: "There is no scene \"Evening\".", allowed: "Afternoon")
    expect(edit("recall", scene: "Afternoon", fields: ["desk/lamp"]).apply(changed).why).to eq("There is no field \"desk/lamp\" to recall.")
    expect(edit("scene", name: " ").apply(show).why).to include("1 to 300 characters")
  end

  it "open a block of which only a part came over from the desk" do
    desk = show.patch.with_slots("desk/channel/3" => Loomshuttle::Patch::Pick.new(from: "desk/mic/30", tap: "raw"))
    pulled = edit("recall",
      scene: JSON.parse(JSON.generate(Loomshuttle::Show::Parts.patch_data(desk))),
      fields: ["desk/channel"]).apply(show)
    expect([pulled.patch.slots["desk/channel/3"].from, pulled.patch.opened.to_a]).to eq(["desk/mic/30", ["desk/channel/1"]])
  end

  it "find that the desk drifted from the plan" do
    desk = show.patch.with_send("desk/channel/1", "desk/bus/1", nil)
    expect(Loomshuttle::Checks::Drift.findings(show, Loomshuttle::Checks::Facts.new(desk: desk)).map(&:what)).to eq(["Channel 1 to Booth wedge (bus 1) is off, planned: -12.0 dB, pre-fader."])
    expect(Loomshuttle::Checks::Drift.findings(show, Loomshuttle::Checks::Facts.new(desk: show.patch))).to eq([])
    computer = show.patch.with_slots("rec/track/1" => nil, "pa/in/1" => nil)
    expect(Loomshuttle::Checks::Drift.findings(show, Loomshuttle::Checks::Facts.new(desk: computer))).to eq([])
    switched = hall("desk-48")
    expect(Loomshuttle::Checks::Drift.findings(switched, Loomshuttle::Checks::Facts.new(desk: switched.patch.with_turned("desk", true))).size).to eq(1)
  end

  it "survive in the show file, and rows that go take their plugs out of them" do
    expect(Loomshuttle::Demo.show(JSON.parse(Loomshuttle::Exchange::ShowFile.write(kept)))).to eq(kept)
    gone = edit("rows", rows: {"list/row/4" => nil}).apply(kept)
    expect(gone.scenes["Afternoon"].plugs).not_to have_key("list/row/4")
  end
end

# Runs: what is laid for many slots at once.
RSpec.describe "Runs" do
  def takes(show, field, range) = range.map { |n| show.patch.slots["#{field}/#{n}"]&.from&.split("/")&.drop(1)&.join(" ") }
  def channels(range) = range.map { |n| "desk/channel/#{n}" }

  it "shift whole blocks and clear what is left behind" do
    shifted = edit("shift", slots: channels(9..16), by: 8).apply(show)
    expect([takes(shifted, "desk/channel", 9..9), takes(shifted, "desk/channel", 17..18)]).to eq([[nil], ["aes50-a-in 9", "aes50-a-in 10"]])
  end

  it "refuse to put a closed block out of line, with the way out" do
    expect(edit("shift", slots: channels(1..8), by: 1).apply(show)).to have_attributes(field: "slots", why: /is patched as one block.*Move whole blocks of 8, or open the block/)
    opened = show(edit("open_block", slot: "desk/channel/1"), edit("open_block", slot: "desk/channel/9"))
    expect(takes(edit("shift", slots: channels(1..8), by: 1).apply(opened), "desk/channel", 1..3)).to eq([nil, "aes50-a-in 1", "aes50-a-in 2"])
  end

  it "reverse single slots" do
    expect(takes(edit("reverse", slots: %w[desk/output/1 desk/output/2 desk/output/3]).apply(show),
      "desk/output",
      1..3)).to eq(["bus 5", "main 2", "main 1"])
  end

  it "swap two blocks, two slots and two rows" do
    expect(takes(edit("swap", one: "desk/channel/3", other: "desk/channel/20").apply(show),
      "desk/channel",
      [1, 17])).to eq(["mic 1", "aes50-a-in 1"])
    rows = edit("swap", one: "list/row/1", other: "list/row/12").apply(show)
    expect(rows.patch.plugs.values_at("list/row/1", "list/row/12")).to eq(%w[box-a/mic/12 box-a/mic/1])
    expect(edit("swap", one: "desk/channel/1", other: "desk/output/1").apply(show).why).to include("Only two slots of one kind")
  end

  it "let card sends follow the inputs: the same sources by block, the channels themselves by lane" do
    expect(takes(edit("copy_layout", from_field: "desk/channel", to_field: "desk/card-send").apply(planted),
      "desk/card-send",
      9..10)).to eq(["aes50-a-in 9", "aes50-a-in 10"])
    by_lane = edit("copy_layout", from_field: "desk/channel", to_field: "desk/card-send").apply(hall("rack-20"))
    expect(by_lane.patch.slots["desk/card-send/3"]).to have_attributes(from: "desk/channel/3", tap: "raw")
    expect(edit("copy_layout", from_field: "desk/output", to_field: "rec/track").apply(show).why).to include("can be taken by Logbook's track field")
  end

  it "spread rows over boxes evenly and keep pairs together" do
    spread = edit("spread", rows: (1..12).map { |n| "list/row/#{n}" }, boxes: %w[box-a desk]).apply(show)
    expect(spread.patch.plugs.values.map { |id| id.split("/").first }.tally.values.max).to be <= 7
    show.rows.values.select(&:pair).each do |row|
      expect(spread.patch.plugs.values_at(row.id, row.pair).map { |id| id.split("/").first }.uniq.size).to eq(1)
    end
    expect(spread.patch.plugs.values.uniq.size).to eq(12)
    expect(edit("spread", rows: ["list/row/1"], boxes: ["pa"]).apply(show).why).to eq("Main PA has no microphone sockets.")
  end

  it "change taps, and say which are offered" do
    changed = edit("retake", slots: ["desk/output/1", "desk/output/2"], tap: "pre-fader").apply(show)
    expect(changed.patch.slots["desk/output/1"].tap).to eq("pre-fader")
    expect(edit("retake", slots: ["desk/output/1"], tap: "raw").apply(show).why).to include("offers no tap \"raw\"; it offers: pre-fader, post-fader")
    expect(edit("retake", slots: ["desk/output/1"], delay_ms: 999).apply(show).why).to include("0 to 200 ms")
  end

  it "plug the sides of a pair together" do
    joined = Loomshuttle::Edits::Join.between(show, "list/row/7", "desk/mic/21").apply(show)
    expect(joined.patch.plugs.values_at("list/row/7", "list/row/8")).to eq(%w[desk/mic/21 desk/mic/22])
  end
end

RSpec.describe "Rows" do
  it "are written, added and taken out" do
    changed = edit("rows", rows: {"list/row/1" => {name: "Hurdy", phantom: "never"},
                                  "list/row/20" => {name: "Bells", group: "drums"},
                                  "list/row/12" => nil}).apply(show)
    expect(changed.rows.keys.last(2)).to eq(%w[list/row/11 list/row/20])
    expect([changed.rows["list/row/1"].phantom,
      changed.patch.plugs.key?("list/row/12"),
      changed.tracks["rec/track/12"].row]).to eq(["never", false, nil])
  end

  {{"list/row/1" => {phantom: "maybe"}} => /one of yes, no, never/,
   {"list/row/1" => {name: " "}} => /1 to 300 characters/,
   {"list/row/90" => {short: "x"}} => /new row needs a name/,
   {"list/row/1" => {lamp: "x"}} => /no column "lamp"/,
   {"desk/mic/1" => {name: "x"}} => /no row of an input list/,
   {"list/row/1" => {pair: "list/row/77"}} => /cannot be paired/,
   {"list/row/1" => {short: "x" * 41}} => /at most 40 characters/}.each do |rows, words|
    it("refuse #{rows}") { expect(edit("rows", rows: rows).apply(show).why).to match(words) }
  end

  it "pair and part on both sides" do
    paired = edit("rows", rows: {"list/row/2" => {pair: "list/row/1"}}).apply(show)
    expect(paired.rows.values.first(3).map(&:pair)).to eq(["list/row/2", "list/row/1", nil])
  end

  it "move with their patch, or leave it with the number" do
    with, without = [true, false].map { |follow| edit("move_rows", rows: ["list/row/9"], to: 1, follow: follow).apply(show) }
    expect([with, without].map { |one| one.rows.values.first(2).map(&:name) }).to eq([["Accordion", "Hurdy-gurdy"]] * 2)
    expect([with, without].map { |one| one.rows.values.first(2).map { |row| [row.id, row.number, one.patch.plugs[row.id]] } }).to eq([
      [["list/row/9", 1, "box-a/mic/9"], ["list/row/1", 2, "box-a/mic/1"]], [["list/row/9", 1, "box-a/mic/1"], ["list/row/1", 2, "box-a/mic/2"]]
    ])
    expect([with, without].map { |one| one.tracks["rec/track/9"].row }).to eq(%w[list/row/9 list/row/8])
    expect(with.rows["list/row/3"].pair).to eq("list/row/2")
  end
end

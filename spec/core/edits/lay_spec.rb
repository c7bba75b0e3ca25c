# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::Lay do
  def lay(takes, from = show) = edit("lay", takes: takes).apply(from)
  def slot(show, id) = show.patch.slots[id]

  it "takes the lane on which a socket's signal arrives, and its block follows one to one" do
    laid = lay({"desk/channel/17" => {from: "box-a/mic/9"}})
    expect((17..24).map { |n| slot(laid, "desk/channel/#{n}").from }).to eq((9..16).map { |n| "desk/aes50-a-in/#{n}" })
  end

  it "takes whole blocks that are pasted slot by slot" do
    laid = lay((17..24).to_h { |n| ["desk/channel/#{n}", {from: "desk/mic/#{n}"}] })
    expect(slot(laid, "desk/channel/24")).to have_attributes(from: "desk/mic/24", tap: "raw")
  end

  it "refuses a block of single choices that is not open, whole, with the way out" do
    crossed = (17..24).to_h { |n| ["desk/channel/#{n}", {from: "desk/mic/#{41 - n}"}] }
    expect(lay(crossed).why).to include("patched as one block", "open the block to single choices")
    expect(slot(lay(crossed, show(edit("open_block", slot: "desk/channel/17"))), "desk/channel/17").from).to eq("desk/mic/24")
  end

  it "keeps tap and delay of a source that stays, and changes what is named alone" do
    set = lay({"desk/output/1" => {tap: "pre-fader", delay_ms: 12.5}})
    expect(slot(set, "desk/output/1")).to have_attributes(from: slot(show, "desk/output/1").from, tap: "pre-fader", delay_ms: 12.5)
    expect(slot(lay({"desk/output/1" => {delay_ms: 0}}, set), "desk/output/1")).to have_attributes(tap: "pre-fader", delay_ms: 0.0)
    expect(slot(lay({"desk/output/1" => {from: "desk/bus/9"}}, set), "desk/output/1")).to have_attributes(tap: "post-fader", delay_ms: 0.0)
  end

  it "frees a slot with its block" do
    expect(lay({"desk/channel/3" => nil}).patch.slots.keys.grep(%r{\Adesk/channel/[1-8]\z})).to eq([])
  end

  {"a slot that is not there" => [{"desk/channel/99" => {from: "desk/mic/1"}}, /no desk\/channel\/99/],
   "a source that the field cannot take" => [{"desk/card-send/1" => {from: "desk/bus/1"}}, /cannot take .*it takes: local socket, AES50 A lane/],
   "a tap of nothing" => [{"desk/output/16" => {tap: "pre-fader"}}, /Output 16 takes nothing, so it has no tap/],
   "a delay beyond the most" => [{"desk/output/1" => {delay_ms: 500}}, /0 to 200 ms, not by 500/]}.each do |fault, (takes, why)|
    it("refuses #{fault}") { expect(lay(takes).why).to match(why) }
  end

  it "does all or nothing, and wants an object" do
    expect(lay({"desk/output/2" => nil, "desk/output/1" => {delay_ms: 500}})).to be_a(Loomshuttle::Refusal)
    expect { edit("lay", takes: ["desk/output/1"]) }.to raise_error(Loomshuttle::BadInput, /edit.takes/)
  end
end

RSpec.describe Loomshuttle::Screens::FieldTable do
  def table(field, from = show) = described_class.of(from, field)

  it "says what each slot takes by the place at the far end, and what arrives by it" do
    line = table("desk/channel")[:slots][8]
    expect(line).to include(id: "desk/channel/9", takes: "Box A socket 9", arrives: "Accordion", tap: "raw", opened: false, present: true)
    expect(table("desk/card-send", planted)[:slots][8]).to include(takes: "local socket 9", arrives: "nothing")
    expect(table("rec/lane-out")[:slots][0]).to include(arrives: "Hurdy-gurdy, from disk")
    expect(table("desk/output")[:slots][0]).to include(arrives: "Main L (main 1)", taps: %w[pre-fader post-fader])
  end

  it "offers every source that may be typed, and the core takes each of them" do
    %w[desk/channel desk/card-send desk/output desk/aes50-a-out rec/lane-out rec/track booth/in].each do |field|
      sources = table(field)[:sources]
      expect(sources.map { |one| one[:label].downcase }.uniq.size).to eq(sources.size)
      first = sources.first[:id]
      expect(edit("lay", takes: {"#{field}/1" => {from: first}}).apply(show)).to be_a(Loomshuttle::Show)
    end
  end

  it "knows which slots a model lacks, and which fields there are" do
    expect(table("desk/out-socket", hall("rack-16"))[:slots].size).to eq(Loomshuttle::Shelf.profiles["rack-16"].families["out-socket"].count)
    expect { table("desk/toaster") }.to raise_error(Loomshuttle::BadInput, %r{desk/toaster.*desk/channel})
  end

  it "has a table of sends for each mix: what can be sent, what it carries, level and tap" do
    sends = Loomshuttle::Screens::SendTable
    expect(sends.mixes(show).map { |mix| mix[:label] }).to include("Main L (main 1)", "Booth wedge (bus 1)", "matrix 6")
    expect(sends.of(show, "desk/bus/1")[:lines].first).to eq(id: "desk/channel/1",
      label: "channel 1",
      carries: "Hurdy-gurdy",
      level_db: -12.0,
      tap: "pre-fader",
      taps: %w[in pre-eq post-eq pre-fader post-fader])
    expect(sends.of(show, "desk/main/1")[:lines].map { |line| line[:id] }).to include("desk/channel/32", "desk/bus/16")
    expect(sends.of(show, "desk/matrix/1")[:lines].map { |line| line[:id] }).not_to include("desk/channel/1")
    expect { sends.of(show, "desk/channel/1") }.to raise_error(Loomshuttle::BadInput, %r{mix: "desk/channel/1"})
  end

  it "names every field of every device of a rig" do
    names = Loomshuttle::Patch::Fields.slotted(show)
    expect(names).to include("desk/aes50-b-out", "rec/track", "rec/lane-out", "booth/in")
    expect(names.map { |name| table(name)[:slots].size }).to all(be_positive)
  end
end

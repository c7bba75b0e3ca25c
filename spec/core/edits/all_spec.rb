# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits do
  samples = {
    "connect" => {slot: "desk/channel/1", from: "desk/mic/1"}, "clear" => {slot: "desk/card-send/20"}, "run" => {slot: "desk/output/11", from: "desk/bus/7", count: 4},
    "open_block" => {slot: "desk/channel/1"}, "restore" => {slots: {"desk/channel/1" => nil, "desk/channel/2" => {from: "desk/mic/5", tap: "raw"}}},
    "plug" => {row: "list/row/1", socket: "desk/mic/30"}, "send" => {channel: "desk/channel/1", mix: "desk/bus/9", level_db: -3}, "split" => {socket: "desk/mic/1"},
    "arm" => {tracks: ["rec/track/1", "rec/track/2"], armed: false}, "rename" => {id: "rec/track/3", name: "Cimbalom / right 🎻"}, "device_rate" => {device: "rec", rate_hz: 44_100},
    "accept" => {key: "shared:x", acceptance: {who: "engineer", at: "2026-11-24T00:00:00Z", digest: "abc"}}, "remember" => {home: {"desk/channel/1" => nil}, opened: [], keep: ["desk/channel/2"]},
    "group" => {edits: [{kind: "clear", slot: "desk/output/1"}, {kind: "plug", row: "list/row/2", socket: nil}]}
  }

  samples.each do |kind, fields|
    describe kind do
      let(:one) { edit(kind, **fields) }

      it "changes the show, and its inverse brings the very same show back" do
        after = one.apply(show)
        expect(after).not_to eq(show)
        expect(one.inverse(show).apply(after)).to eq(show)
      end

      it "goes to data and back" do
        again = described_class.from_h(JSON.parse(JSON.generate(one.to_data)))
        expect(again.apply(show)).to eq(one.apply(show))
      end
    end
  end

  it "covers every kind that it knows" do
    expect { edit("melt") }.to raise_error { |error| expect(error.allowed).to eq("one of #{samples.keys.join(", ")}") }
  end

  it "does all of a group or nothing" do
    result = edit("group", edits: [{kind: "clear", slot: "desk/output/1"}, {kind: "clear", slot: "desk/output/99"}]).apply(show)
    expect(result).to be_a(Loomshuttle::Refusal)
  end

  it "names an unknown kind and a missing field" do
    expect { edit("melt") }.to raise_error(Loomshuttle::BadInput, /edit.kind: "melt" is not usable; one of connect/)
    expect { edit("connect", slot: "desk/channel/1") }.to raise_error(Loomshuttle::BadInput, /edit.from.*connect needs it/)
  end

  # Property: whatever a hundred random patching edits do, undoing them in order gives the
  # first show back, and no edit ever leaves a show that its own file format refuses.
  it "undoes any sequence of random edits" do
    random = Random.new(20_261_124)
    first = show
    pick = ->(family, count) { "desk/#{family}/#{random.rand(1..count)}" }
    undo = []
    last = (1..100).reduce(first) do |now, _|
      one = [-> { edit("connect", slot: pick["channel", 32], from: pick["mic", 32]) }, -> { edit("connect", slot: pick["card-send", 32], from: pick["aes50-a-in", 48]) },
        -> { edit("open_block", slot: pick["channel", 32], open: random.rand(2) == 1) }, -> { edit("clear", slot: pick["output", 16]) },
        -> { edit("send", channel: pick["channel", 32], mix: pick["bus", 16], on: random.rand(2) == 1) }].sample(random: random).call
      after = one.apply(now)
      next now if after.is_a?(Loomshuttle::Refusal)

      undo.unshift(one.inverse(now))
      after
    end
    expect(undo.size).to be > 20
    expect(Loomshuttle::Demo.show(JSON.parse(Loomshuttle::Exchange::ShowFile.write(last)))).to eq(last)
    expect(undo.reduce(last) { |now, one| one.apply(now) }).to eq(first)
  end
end

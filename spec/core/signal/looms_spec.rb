# frozen_string_literal: true

require "core_helper"
require_relative "../../../bench/large_rig"

RSpec.describe Loomshuttle::Screens::Looms do
  def posts(name, from = show) = described_class.named(name, from).to_h { |post| [post[:key], post[:ids]] }
  def weave(name, from = show) = Loomshuttle::Screens::Loom.weave(from, described_class.named(name, from))

  # Two desks that share Box A: the second hears it over a link from the first.
  let(:shared) do
    [edit("device", id: "monitors", profile: "desk-32", name: "Monitor desk", clock: "aes50-b"),
      edit("cable", a: "monitors/aes50-b", b: "desk/aes50-b", length_m: 30),
      edit("device", id: "box-m", profile: "stage-box-16x8", name: "Box M", clock: "aes50"),
      edit("cable", a: "box-m/aes50", b: "monitors/aes50-a", length_m: 10),
      edit("run", slot: "desk/aes50-b-out/1", from: "desk/aes50-a-in/1", count: 16),
      edit("run", slot: "monitors/channel/1", from: "monitors/aes50-b-in/1", count: 16)].reduce(show) do |now, one|
      one.apply(now).tap { |after| raise after.why if after.is_a?(Loomshuttle::Refusal) }
    end
  end

  it "weaves each desk its own, with the boxes that it hears and the computers at its card" do
    expect(posts("patch@desk", shared)["socket"]).to include("box-a/mic/1").and include("desk/mic/1")
    expect(posts("patch@desk", shared)["socket"]).not_to include("box-m/mic/1")
    expect(posts("patch@monitors", shared)["socket"]).to include("box-m/mic/1", "box-a/mic/1", "monitors/mic/1")
    expect(posts("patch@monitors", shared)["track"]).to eq([])
    expect(posts("patch@desk", shared)["track"]).to include("rec/track/1")
  end

  it "follows a source over the link between two desks" do
    strands = weave("patch@monitors", shared)[:strands].map { |strand| strand.values_at(:from, :to, :row) }
    expect(strands).to include(["box-a/mic/9", "monitors/channel/9", "list/row/9"])
    expect(Loomshuttle::Signal::Sentence.of(shared, "list/row/9")).to include("Quay desk channel 9 and Monitor desk channel 9")
  end

  it "shows a row with its own desk, and one that is plugged in nowhere with all" do
    large = Bench::LargeRig.show(desks: 2, threads: 8, computers: 1)
    expect(posts("patch@desk-2", large)["row"]).to eq(%w[list/row/2 list/row/4 list/row/6 list/row/8])
    loose = edit("plug", row: "list/row/1", socket: nil).apply(large)
    expect(posts("patch@desk-2", loose)["row"]).to include("list/row/1")
  end

  it "says level and tap of a send, tap and delay of an output, and nothing of what only runs on" do
    set = [edit("send", channel: "desk/channel/1", mix: "desk/bus/1", tap: "pre-fader", level_db: -6.5), edit("retake", slots: ["desk/output/9"], tap: "post-fader", delay_ms: 4)]
    changed = set.reduce(show) { |now, one| one.apply(now) }
    note = ->(loom, from, to) { weave(loom, changed)[:strands].find { |strand| strand.values_at(:from, :to) == [from, to] }[:note] }
    expect(note["mixes", "desk/channel/1", "desk/bus/1"]).to eq("−6.5 dB, pre-fader")
    expect(note["outputs", "desk/bus/1", "desk/output/9"]).to eq("post-fader, 4 ms")
    expect(note["outputs", "desk/output/9", "box-a/out-socket/1"]).to be_nil
    expect(note["outputs", "desk/output/1", "desk/out-socket/1"]).to be_nil
    expect(note["patch", "box-a/mic/1", "desk/channel/1"]).to be_nil
  end

  it "gives the first desk's where a desk has left the rig, and names what there is for an unknown loom" do
    expect(posts("patch@gone")).to eq(posts("patch"))
    expect { posts("carpet") }.to raise_error(Loomshuttle::BadInput, /patch, outputs, mixes, soundcheck, tracks, with or without @ and a desk/)
  end

  it "calls a channel on the loom of mixes by the row or the role that it carries" do
    labels = weave("mixes", show)[:posts].first[:knots].to_h { |knot| [knot[:id], knot[:label]] }
    expect(labels.values_at("desk/channel/1", "desk/channel/13", "desk/channel/31")).to eq(["Hurdy-gurdy", "channel 13", "click"])
  end

  it "shows channels and what they are sent to, directly and through a group" do
    grouped = show(edit("send", channel: "desk/channel/5", mix: "desk/bus/9"), edit("send", channel: "desk/bus/9", mix: "desk/main/1"))
    loom = weave("mixes", grouped)
    expect(loom[:posts].map { |post| post[:key] }).to eq(%w[channel bus main matrix])
    strands = loom[:strands].map { |strand| strand.values_at(:from, :to, :row) }
    expect(strands).to include(["desk/channel/5", "desk/main/1", "list/row/5"],
      ["desk/channel/5", "desk/bus/9", "list/row/5"],
      ["desk/bus/9", "desk/main/1", "desk/bus/9"])
  end

  described_class::NAMES.each do |name|
    it "weaves #{name} for an empty rig and for every shipped desk" do
      empty = Loomshuttle::Demo.show(version: 1,
        name: "Empty",
        venue: "",
        sample_rate_hz: 48_000,
        devices: [],
        cables: [],
        rows: [],
        tracks: [],
        patch: {})
      expect(weave(name, empty)[:strands]).to eq([])
      Loomshuttle::Shelf.profiles.values.select { |profile| profile.kind == "desk" }.each do |profile|
        expect(weave(name, hall(profile.name))[:posts].size).to be > 2
      end
    end
  end
end

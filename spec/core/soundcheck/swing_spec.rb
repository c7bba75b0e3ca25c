# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Soundcheck::Swing do
  let(:plan) { described_class.to_recorder(show) }
  let(:swung) { plan.edit.apply(show) }

  it "turns whole blocks, one to one, and proves that they can be turned back" do
    expect(plan).to have_attributes(proved: true, stays: [])
    expect(plan.changes.map { |change| change.values_at(:slot, :to) }).to eq((1..16).map { |n| ["desk/channel/#{n}", "desk/card-return/#{n}"] })
  end

  it "comes back to the very same patch" do
    back = described_class.to_stage(swung)
    expect(back.proved).to be(true)
    expect(back.edit.apply(swung)).to eq(show)
  end

  it "opens a block so that a talker's live microphone stays on the stage" do
    kept = described_class.to_recorder(show, keep: ["desk/channel/12"])
    after = kept.edit.apply(show)
    expect(kept.stays).to eq(["desk/channel/12"])
    expect(Loomshuttle::Soundcheck::Feed.of_channels(after).select { |_, feed| feed == :stage }.keys).to eq(["desk/channel/12"])
    expect(described_class.to_stage(after).edit.apply(after)).to eq(show)
  end

  it "works slot by slot on a desk without blocks" do
    before = rack
    after = described_class.to_recorder(before).edit.apply(before)
    expect(after.patch.slots["desk/channel/1"].from).to eq("desk/card-return/1")
    expect(described_class.to_stage(after).edit.apply(after)).to eq(before)
  end

  it "finishes a swing that was half done by hand, and knows the whole way home" do
    half = show(edit("connect", slot: "desk/channel/1", from: "desk/card-return/1"))
    whole = described_class.to_recorder(half).edit.apply(half)
    expect(Loomshuttle::Soundcheck::Feed.of_channels(whole).values.uniq).to eq([:recorder])
    expect(described_class.to_stage(whole).edit.apply(whole).patch).to eq(show.patch)
  end

  it "does not lose its way home where a track was recorded from the wrong place" do
    after = described_class.to_recorder(planted).edit.apply(planted)
    expect(Loomshuttle::Soundcheck::Feed.of_channels(after).size).to eq(12)
    expect(described_class.to_stage(after).edit.apply(after)).to eq(planted)
  end

  it "refuses with the reason" do
    expect(described_class.to_stage(show).why).to include("nothing is left to turn")
    expect(described_class.to_recorder(swung).why).to include("nothing is left to turn")
    expect(described_class.to_recorder(show, keep: ["desk/channel/31"]).why).to include("has no track that could come back")
    expect(described_class.to_recorder(rack(slots: {"rec/lane-out/1" => nil})).why).to include("no track goes back")
  end
end

RSpec.describe Loomshuttle::Soundcheck::Matching do
  let(:tracks) { show.tracks.values }

  it "matches names whatever their case, number and punctuation" do
    files = ["01_hurdy gurdy.wav", "Track 05 - KICK.WAV", "accordion.bwf", "09 Narrator (old).wav"].map { |name| {name: name, channels: 1} }
    found = described_class.match(tracks, files)
    expect(found[:matched].map { |part| part.values_at(:file, :track) }).to eq([["01_hurdy gurdy.wav", "rec/track/1"], ["Track 05 - KICK.WAV", "rec/track/5"], ["accordion.bwf", "rec/track/9"]])
    expect(found[:loose]).to eq([{file: "09 Narrator (old).wav", channel: 1}])
    expect(found[:unfilled]).to include("rec/track/12")
  end

  it "puts the sides of a stereo file on the two sides of a pair" do
    found = described_class.match(tracks, [{name: "Cimbalom.wav", channels: 2}])
    expect(found[:matched].map { |part| part.values_at(:channel, :track) }).to eq([[1, "rec/track/2"], [2, "rec/track/3"]])
  end

  it "gives a track to one file only" do
    found = described_class.match(tracks, [{name: "Kick.wav", channels: 1}, {name: "kick.WAV", channels: 1}])
    expect([found[:matched].size, found[:loose].size]).to eq([1, 1])
  end
end

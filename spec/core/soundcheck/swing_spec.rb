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
    expect(Loomshuttle::Signal::Feed.of_channels(after).select { |_, feed| feed == :stage }.keys).to eq(["desk/channel/12"])
    expect(described_class.to_stage(after).edit.apply(after)).to eq(show)
  end

  # Property: for every desk that ships, whoever stays, a swing and its way back give the
  # same patch, and what turned listens to its own track.
  desks = Loomshuttle::Shelf.profiles.values.select { |profile| profile.kind == "desk" }
  desks.product([[], ["desk/channel/3"], ["desk/channel/1", "desk/channel/8"]]).each do |profile, keep|
    it "turns a #{profile.name} there and back#{" with #{keep.size} kept on the stage" if keep.any?}" do
      before = hall(profile.name)
      plan = described_class.to_recorder(before, keep: keep)
      after = plan.edit.apply(before)
      expect(plan.proved).to be(true)
      expect(Loomshuttle::Signal::Feed.of_channels(after)).to eq((1..8).to_h { |n| ["desk/channel/#{n}", keep.include?("desk/channel/#{n}") ? :stage : :recorder] })
      expect(Loomshuttle::Signal::Sources.channels(after)).to eq((1..8).to_h { |n| ["desk/channel/#{n}", "list/row/#{n}"] })
      expect(described_class.to_stage(after).edit.apply(after)).to eq(before)
      expect(rules(after) & %w[mixed-feed second-set]).to eq([])
    end
  end

  # While the desk is on the recorder somebody else may step up to a microphone: for every desk that ships.
  desks.product([[["desk/channel/3"], []], [[], ["desk/channel/3"]], [["desk/channel/1"], ["desk/channel/8"]]]).each do |profile, (first, then_kept)|
    it "lets others stay than #{first.size} at first: #{profile.name}, then #{then_kept.size}" do
      before = hall(profile.name)
      swung = described_class.to_recorder(before, keep: first).edit.apply(before)
      plan = described_class.to_recorder_anew(swung, keep: then_kept)
      after = plan.edit.apply(swung)
      expect(plan.proved).to be(true)
      expect(after).to eq(described_class.to_recorder(before, keep: then_kept).edit.apply(before))
      expect(described_class.to_stage(after).edit.apply(after)).to eq(before)
      expect(plan.words(swung).join).to include("Channel #{then_kept.first[/\d+/]} comes back to the stage.") if then_kept.any?
      expect(plan.words(swung).join).to match(/Channel #{first.first[/\d+/]} turns? to the recorder/) if first.any?
    end
  end

  it "turns nothing where the same stay, and turns as ever where nothing is turned yet" do
    kept = described_class.to_recorder(show, keep: ["desk/channel/12"]).edit.apply(show)
    expect(described_class.to_recorder_anew(kept, keep: ["desk/channel/12"])).to be_a(Loomshuttle::Refusal)
    expect(described_class.to_recorder_anew(show, keep: ["desk/channel/12"]).edit.apply(show)).to eq(kept)
  end

  it "lays a second set once and turns by the switch alone" do
    before = hall("rack-20")
    after = described_class.to_recorder(before).edit.apply(before)
    expect([after.patch.slots["desk/channel/1"].from, after.patch.slots["desk/return/1"].from, after.patch.turned.size]).to eq(["desk/mic/1", "desk/card-return/1", 8])
    expect(after.graph.line_back("desk/channel/1")).to start_with("desk/channel/1", "desk/return/1", "desk/card-return/1")
  end

  it "is told as what each listens to" do
    words = ->(one) { Loomshuttle::Compare::Patches.of(one, one.patch, described_class.to_recorder(one).edit.apply(one).patch, was: "planned").map { |change| change[:words] } }
    expect(words[hall("desk-48", slots: (1..8).to_h { |n| ["desk/recorder-set/#{n}", {from: "desk/card-return/#{n}"}] })]).to eq(["Desk listens to its second set, planned: first set"])
    expect(words[hall("rack-20")]).to include("Channel 1–8 listen to their second inputs, planned: first inputs")
  end

  it "turns a switch back that somebody turned by hand" do
    before = hall("desk-48", slots: {"desk/recorder-set/1" => {from: "desk/card-return/1", tap: "raw"}})
    by_hand = edit("turn", places: ["desk"]).apply(before)
    expect(described_class.to_stage(by_hand).edit.apply(by_hand).patch).to eq(before.patch)
  end

  it "finishes a swing that was half done by hand, and knows the whole way home" do
    half = show(edit("connect", slot: "desk/channel/1", from: "desk/card-return/1"))
    whole = described_class.to_recorder(half).edit.apply(half)
    expect(Loomshuttle::Signal::Feed.of_channels(whole).values.uniq).to eq([:recorder])
    expect(described_class.to_stage(whole).edit.apply(whole).patch).to eq(show.patch)
  end

  it "does not lose its way home where a track was recorded from the wrong place" do
    after = described_class.to_recorder(planted).edit.apply(planted)
    expect(Loomshuttle::Signal::Feed.of_channels(after).size).to eq(12)
    expect(described_class.to_stage(after).edit.apply(after)).to eq(planted)
  end

  it "refuses with the reason" do
    expect(described_class.to_stage(show).why).to include("nothing is left to turn")
    expect(described_class.to_recorder(swung).why).to include("nothing is left to turn")
    expect(described_class.to_recorder(show, keep: ["desk/channel/20"]).why).to eq("Channel 20 has no source, so there is nothing to keep on the stage.")
    expect(described_class.to_recorder(rack(slots: {"rec/lane-out/1" => nil})).why).to include("no track goes back")
  end
end

RSpec.describe Loomshuttle::Soundcheck::Matching do
  let(:tracks) { show.tracks.values }

  it "matches names whatever their case, number and punctuation" do
    files = ["01_hurdy gurdy.wav", "Track 05 - KICK.WAV", "accordion.bwf", "09 Narrator (old).wav"].map { |name| {name: name, channels: 1} }
    found = described_class.match(tracks, files)
    expect(found[:matched].map { |part| part.values_at(:file, :track, :sure) }).to eq([["01_hurdy gurdy.wav", "rec/track/1", true],
      ["Track 05 - KICK.WAV", "rec/track/5", true], ["accordion.bwf", "rec/track/9", true], ["09 Narrator (old).wav", "rec/track/12", false]])
    expect(found[:unfilled]).to include("rec/track/11")
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

# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Signal::Feed do
  it "knows stage, recorder, playback and nothing" do
    half = show(edit("connect", slot: "desk/channel/1", from: "desk/card-return/1"))
    expect(%w[desk/channel/1 desk/channel/9 desk/channel/31].map { |id| described_class.of(half, id) }).to eq(%i[recorder stage playback])
    expect(described_class.of(show(edit("clear", slot: "desk/channel/17")), "desk/channel/17")).to eq(:nothing)
  end

  it "says Recorder for the desk as soon as one channel listens to it" do
    expect(described_class.of_desk(show)).to eq(:stage)
    kept = Loomshuttle::Soundcheck::Swing.to_recorder(show, keep: (2..12).map { |n| "desk/channel/#{n}" }).edit.apply(show)
    expect(described_class.of_channels(kept).values.count(:recorder)).to eq(1)
    expect(described_class.of_desk(kept)).to eq(:recorder)
  end

  it "does not count playback channels, which never turn" do
    expect(described_class.of_channels(show).keys).to eq((1..12).map { |n| "desk/channel/#{n}" })
  end
end

RSpec.describe Loomshuttle::Signal::Sources do
  it "finds the lane on which each channel's own track comes back" do
    expect(described_class.returns(show)).to eq((1..12).to_h { |n| ["desk/channel/#{n}", "desk/card-return/#{n}"] })
  end

  it "follows the computer's outputs, not the numbers" do
    crossed = show(edit("connect", slot: "rec/lane-out/1", from: "rec/track/2"), edit("connect", slot: "rec/lane-out/2", from: "rec/track/1"))
    expect(described_class.returns(crossed).values_at("desk/channel/1", "desk/channel/2")).to eq(%w[desk/card-return/2 desk/card-return/1])
  end

  it "opens the block where returns cross, so that each channel still gets its own track" do
    crossed = show(edit("connect", slot: "rec/lane-out/1", from: "rec/track/2"), edit("connect", slot: "rec/lane-out/2", from: "rec/track/1"))
    plan = Loomshuttle::Soundcheck::Swing.to_recorder(crossed)
    after = plan.edit.apply(crossed)
    expect([plan.proved, after.patch.slots["desk/channel/1"].from, after.patch.slots["desk/channel/3"].from]).to eq([true, "desk/card-return/2", "desk/card-return/3"])
    expect(Loomshuttle::Soundcheck::Swing.to_stage(after).edit.apply(after)).to eq(crossed)
  end

  it "knows a channel's way to the stage over its box and cable" do
    expect(described_class.stage_source(show, "desk/channel/9")).to eq("desk/aes50-a-in/9")
  end
end

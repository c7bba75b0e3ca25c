# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::OpenBlock do
  let(:opened) { edit("open_block", slot: "desk/channel/5").apply(show) }

  it "lets single slots choose" do
    after = edit("connect", slot: "desk/channel/5", from: "desk/mic/3").apply(opened)
    expect([4, 5, 6].map { |n| after.patch.slots["desk/channel/#{n}"].from }).to eq(%w[desk/aes50-a-in/4 desk/mic/3 desk/aes50-a-in/6])
  end

  it "refuses to open what the model keeps closed" do
    expect(edit("open_block", slot: "desk/card-send/1").apply(show).why).to eq("The block of card lane 1 cannot be opened on this model.")
  end

  it "closes again only when the block lies straight" do
    expect(edit("open_block", slot: "desk/channel/5", open: false).apply(opened).patch).to eq(show.patch)
    crooked = edit("connect", slot: "desk/channel/5", from: "desk/mic/3").apply(opened)
    expect(edit("open_block", slot: "desk/channel/5", open: false).apply(crooked).why).to include("lay it straight before you close it")
  end
end

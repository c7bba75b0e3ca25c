# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::Connect do
  it "moves the whole block where slots move as a block" do
    after = show(edit("connect", slot: "desk/channel/3", from: "desk/mic/11"))
    expect((1..8).map { |n| after.patch.slots["desk/channel/#{n}"].from }).to eq((9..16).map { |n| "desk/mic/#{n}" })
  end

  it "changes a single slot where every slot chooses" do
    before = rack
    after = edit("connect", slot: "desk/channel/1", from: "desk/mic/7").apply(before)
    expect(after.patch.slots.reject { |id, take| before.patch.slots[id] == take }.keys).to eq(["desk/channel/1"])
  end

  it "uses the first tap of a place, and the last of a mix" do
    expect(show(edit("connect", slot: "desk/output/12", from: "desk/channel/1")).patch.slots["desk/output/12"].tap).to eq("in")
    expect(show(edit("connect", slot: "desk/output/12", from: "desk/bus/3")).patch.slots["desk/output/12"].tap).to eq("post-fader")
  end

  refusals = {
    "an unaligned source" => [{slot: "desk/channel/1", from: "desk/mic/3"}, "from", /whole block 1–8, and local socket 3 would put the block out of line. It goes on channel 3, 11, 19, 27, or anywhere once the block is opened/],
    "a family that the slot does not take" => [{slot: "desk/card-send/1", from: "desk/bus/1"},
      "from",
      /Card lane 1 cannot take Booth wedge \(bus 1\); it takes: local socket, AES50 A lane/],
    "a source that is not there" => [{slot: "desk/channel/25", from: "desk/card-return/33"}, "from", /no card return 33: it ends at 32/],
    "a tap that is not offered" => [{slot: "desk/output/1", from: "desk/bus/1", tap: "pre-eq"},
      "tap",
      /no tap "pre-eq"; it offers: pre-fader, post-fader/],
    "a delay beyond the slot's" => [{slot: "desk/output/1", from: "desk/bus/1", delay_ms: 201}, "delay_ms", /0 to 200 ms, not by 201/],
    "a slot that is not there" => [{slot: "desk/channel/33", from: "desk/mic/1"}, "slot", /no desk\/channel\/33/],
    "a place that is no slot" => [{slot: "desk/mic/1", from: "desk/mic/2"}, "slot", /no desk\/mic\/1 to patch/]
  }
  refusals.each do |name, (fields, field, why)|
    it "refuses #{name} and says why" do
      result = edit("connect", **fields).apply(show)
      expect(result).to have_attributes(class: Loomshuttle::Refusal, field: field, why: why)
    end
  end

  it "refuses a socket that a compact body lacks" do
    data = Loomshuttle::Demo.mended
    data[:devices].first[:profile] = "desk-32-compact"
    result = edit("connect", slot: "desk/channel/17", from: "desk/mic/17").apply(Loomshuttle::Demo.show(data))
    expect(result.why).to include("no local socket 17: it ends at 16")
  end
end

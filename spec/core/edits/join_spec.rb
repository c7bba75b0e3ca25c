# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::Join do
  cases = {
    "a row to a socket" => [%w[list/row/1 box-a/mic/14], {kind: "plug", row: "list/row/1", socket: "box-a/mic/14"}],
    "a box socket to a channel, over its cable" => [%w[box-a/mic/9 desk/channel/1], {slot: "desk/channel/1", from: "desk/aes50-a-in/9"}],
    "a box socket to a lane" => [%w[box-a/mic/9 desk/card-send/9], {slot: "desk/card-send/9", from: "desk/aes50-a-in/9"}],
    "a channel to a lane: the lane takes the channel's socket" => [%w[desk/channel/9 desk/card-send/9], {slot: "desk/card-send/9", from: "desk/aes50-a-in/9"}],
    "the same from the other end" => [%w[desk/card-send/9 desk/channel/9], {slot: "desk/card-send/9", from: "desk/aes50-a-in/9"}],
    "a lane to a track" => [%w[desk/card-send/13 rec/track/13], {slot: "rec/track/13", from: "rec/lane-in/13"}],
    "a role to a lane" => [%w[songs/role/click rec/lane-out/32], {slot: "rec/lane-out/32", from: "songs/role/click"}],
    "a channel to a mix" => [%w[desk/channel/31 desk/bus/2], {kind: "send", channel: "desk/channel/31", mix: "desk/bus/2"}]
  }
  cases.each do |name, ((one, other), expected)|
    it "lays #{name}" do
      expect(described_class.between(planted, one, other).to_data).to include(expected)
    end
  end

  it "says when nothing can be laid" do
    expect(described_class.between(show, "pa/in/1", "list/row/1").why).to eq("Nothing can be laid between Main PA L and Hurdy-gurdy.")
  end
end

RSpec.describe "Joining a stereo pair" do
  let(:rows) { (1..8).map { |n| {id: "list/row/#{n}", name: "S#{n}", pair: {3 => "list/row/4", 4 => "list/row/3"}[n]} } }
  let(:free) { hall("rack-20", rows: rows, slots: {"desk/channel/3" => nil, "desk/channel/4" => nil}) }

  it "lays both sides on neighbouring channels as one" do
    joined = Loomshuttle::Edits::Join.between(free, "list/row/3", "desk/channel/11").apply(free)
    expect(joined.patch.slots.values_at("desk/channel/11", "desk/channel/12").map(&:from)).to eq(%w[desk/mic/3 desk/mic/4])
    right = Loomshuttle::Edits::Join.between(free, "desk/mic/4", "desk/channel/14").apply(free)
    expect(right.patch.slots.values_at("desk/channel/13", "desk/channel/14").map(&:from)).to eq(%w[desk/mic/3 desk/mic/4])
  end

  it "leaves what is in the neighbouring slot alone" do
    joined = Loomshuttle::Edits::Join.between(free, "list/row/4", "desk/channel/9").apply(free)
    expect([joined.patch.slots["desk/channel/9"].from, joined.patch.slots["desk/channel/8"].from]).to eq(%w[desk/mic/4 desk/mic/8])
  end
end

RSpec.describe "Joining outputs" do
  it "patches an output of a box where the desk sends it" do
    joined = Loomshuttle::Edits::Join.between(show, "desk/output/1", "box-a/out-socket/1")
    expect(joined).to have_attributes(slot: "desk/aes50-a-out/1", from: "desk/output/1")
    expect(Loomshuttle::Edits::Join.between(show, "desk/bus/9", "desk/output/12").apply(show).patch.slots["desk/output/12"].from).to eq("desk/bus/9")
    expect(Loomshuttle::Edits::Join.between(show, "box-a/out-socket/4", "booth/in/1").apply(show).patch.slots["booth/in/1"].from).to eq("box-a/out-socket/4")
  end

  it "weaves mixes down to who hears them" do
    loom = Loomshuttle::Screens::Loom.weave(show, Loomshuttle::Screens::Looms.named("outputs", show))
    expect(loom[:posts].map { |post| post[:key] }).to eq(%w[mix output socket listener])
    expect(loom[:strands].map { |strand| [strand[:from], strand[:to]] }).to include(%w[desk/main/1 desk/output/1],
      %w[desk/output/9 box-a/out-socket/1],
      %w[box-a/out-socket/1 booth/in/1])
  end

  it "takes lanes raw for the soundcheck and behind the fader for the mix" do
    mix = edit("record_taps", desk: "desk", purpose: "mix").apply(hall("rack-20"))
    expect(mix.patch.slots["desk/card-send/1"].tap).to eq("post-fader")
    expect(edit("record_taps", desk: "desk", purpose: "soundcheck").apply(mix).patch.slots["desk/card-send/1"].tap).to eq("raw")
    expect(edit("record_taps", desk: "desk", purpose: "mix").apply(show).why).to include("take sockets in blocks")
  end
end

RSpec.describe "Taking apart" do
  def apart(one, other, from = show) = Loomshuttle::Edits::Join.apart(from, one, other)
  def free(place, from = show) = Loomshuttle::Edits::Join.free(from, place)

  it "takes off what is laid between two places, whichever is named first" do
    expect(apart("box-a/mic/3", "list/row/3").apply(show).patch.plugs).not_to have_key("list/row/3")
    expect(apart("desk/channel/1", "desk/main/1").apply(show).patch.send_of("desk/channel/1", "desk/main/1")).to be_nil
    expect(apart("desk/output/1", "desk/out-socket/1").apply(show).patch.slots).not_to have_key("desk/out-socket/1")
    expect(apart("box-a/mic/1", "desk/channel/1").apply(show).patch.slots.keys.grep(%r{\Adesk/channel/[1-8]\z})).to eq([])
  end

  it "says that nothing is there to take off" do
    expect(apart("desk/channel/1", "desk/bus/16").why).to eq("Nothing is laid between channel 1 and bus 16.")
    expect(apart("box-a/mic/1", "desk/channel/2").why).to start_with("Nothing is laid between")
  end

  it "frees a row, a socket, a slot, and an output of a box where the desk sends it" do
    expect(free("list/row/3").apply(show).patch.plugs).not_to have_key("list/row/3")
    crowded = edit("plug", row: "list/row/4", socket: "box-a/mic/3").apply(show)
    expect(free("box-a/mic/3", crowded).apply(crowded).patch.plugs.keys).not_to include("list/row/3", "list/row/4")
    expect(free("desk/output/1").apply(show).patch.slots).not_to have_key("desk/output/1")
    expect(free("box-a/out-socket/1").apply(show).patch.slots.keys.grep(%r{\Adesk/aes50-a-out/[1-8]\z})).to eq([])
  end

  it "leaves a mix with its sources and says how one leaves it" do
    expect(free("desk/main/1").why).to match(/\AMain L \(main 1\) mixes \d+ sources: hold the one that is to leave/)
    expect(free("desk/mic/30").why).to eq("Nothing is laid on local socket 30.")
  end
end

RSpec.describe "Joining runs" do
  def run(one, other, count, from = show) = Loomshuttle::Edits::Join.run(from, one, other, count).apply(from)

  it "lays slots one to one onward, through a stereo pair too" do
    rows = (1..8).map { |n| {id: "list/row/#{n}", name: "S#{n}", pair: {1 => "list/row/2", 2 => "list/row/1"}[n]} }
    free = hall("rack-20", rows: rows, slots: (1..8).to_h { |n| ["desk/channel/#{n}", nil] })
    expect(run("desk/mic/1", "desk/channel/11", 4, free).patch.slots.values_at(*(11..15).map { |n| "desk/channel/#{n}" }).map { |take| take&.from }).to eq(["desk/mic/1", "desk/mic/2", "desk/mic/3", "desk/mic/4", nil])
  end

  it "plugs rows in by the list's order, as far as it goes" do
    plugged = run("list/row/10", "desk/mic/20", 8)
    expect(plugged.patch.plugs.values_at("list/row/9", "list/row/10", "list/row/11", "list/row/12")).to eq(%w[box-a/mic/9 desk/mic/20 desk/mic/21 desk/mic/22])
  end

  it "sends channels onward to one mix" do
    grouped = run("desk/channel/5", "desk/bus/9", 4)
    expect((4..9).map { |n| !grouped.patch.send_of("desk/channel/#{n}", "desk/bus/9").nil? }).to eq([false, true, true, true, true, false])
  end

  it "does all or nothing, and says why nothing can be laid" do
    expect(run("desk/channel/30", "desk/bus/9", 8)).to have_attributes(field: "channel", value: "desk/channel/33")
    expect(run("list/row/1", "desk/mic/30", 4)).to have_attributes(field: "socket", value: "desk/mic/33")
    expect(Loomshuttle::Edits::Join.run(show, "desk/bus/1", "rec/track/1", 2)).to be_a(Loomshuttle::Refusal)
  end
end

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
    expect(described_class.between(show, "pa/in/1", "list/row/1").why).to start_with("Nothing can be laid between Main PA L and Hurdy-gurdy: Main PA L takes output sockets")
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
  def run(one, other, count, from = show)
    Loomshuttle::Edits::Join.run(from, one, other, count).then { |found| found.is_a?(Loomshuttle::Refusal) ? found : found.apply(from) }
  end

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

RSpec.describe "Joining to the end of the post" do
  let(:rows) { (1..30).map { |n| {id: "list/row/#{n}", name: "S#{n}"} } }
  let(:free) { hall("rack-20", rows: rows, slots: (1..20).to_h { |n| ["desk/channel/#{n}", nil] }) }

  def run(one, other, from = free) = Loomshuttle::Edits::Join.run(from, one, other, "end").apply(from)

  it "lays as many as both posts have from there" do
    sockets = free.places(free.rig.devices["desk"], "mic").select { |id| free.rig.present?(id) }
    laid = run("desk/mic/3", "desk/channel/1")
    expect(laid.patch.slots.values_at("desk/channel/1", "desk/channel/#{sockets.size - 2}").map(&:from)).to eq(["desk/mic/3", sockets.last])
    expect(laid.patch.slots["desk/channel/#{sockets.size - 1}"]).to be_nil
    plugged = run("list/row/5", "desk/mic/1")
    expect(plugged.patch.plugs["list/row/#{sockets.size + 4}"]).to eq(sockets.last)
    expect(plugged.patch.plugs["list/row/#{sockets.size + 5}"]).to eq(free.patch.plugs["list/row/#{sockets.size + 5}"])
    sent = run("desk/channel/17", "desk/bus/1")
    expect((15..20).map { |n| !sent.patch.send_of("desk/channel/#{n}", "desk/bus/1").nil? }).to eq((15..20).map { |n| n >= 17 && free.rig.present?("desk/channel/#{n}") })
  end

  it "follows the list from row to row, wherever each is plugged in, and passes over what has nothing to lay" do
    mixed = hall("rack-20", rows: rows.first(8), slots: (1..20).to_h { |n| ["desk/channel/#{n}", nil] },
      tracks: [])
    mixed = {1 => 9, 2 => 4, 3 => nil, 4 => 2, 5 => 1, 6 => nil, 7 => nil, 8 => nil}.reduce(mixed) { |now, (row, socket)|
      edit("plug", row: "list/row/#{row}", socket: socket && "desk/mic/#{socket}").apply(now)
    }
    laid = run("list/row/1", "desk/channel/11", mixed)
    expect((11..16).map { |n| laid.patch.slots["desk/channel/#{n}"]&.from }).to eq(["desk/mic/9", "desk/mic/4", nil, "desk/mic/2", "desk/mic/1", nil])
    expect(Loomshuttle::Edits::Join.words(mixed, "desk/channel/11", "list/row/1", "end")).to eq("Lay all from S1 on channel 11 onward")
  end
end

RSpec.describe "Joining by way of what is patched" do
  def join(one, other, from = show) = Loomshuttle::Edits::Join.between(from, one, other)

  it "lets a track take the lane on which a row arrives, and a socket the output by which a mix leaves" do
    expect(join("list/row/5", "rec/track/20").to_data).to include(slot: "rec/track/20", from: "rec/lane-in/5")
    expect(join("desk/bus/1", "desk/out-socket/9").apply(show).patch.slots["desk/out-socket/9"].from).to eq("desk/output/9")
  end

  it "lays a mix on a socket in one act, by an output that nothing else needs" do
    before = show.patch.slots["desk/out-socket/9"]
    laid = join("desk/bus/10", "desk/out-socket/9").apply(show)
    output = laid.patch.slots["desk/out-socket/9"].from
    expect([before&.from, show.patch.slots[output], laid.patch.slots[output].from]).to match([anything, nil, "desk/bus/10"])
    %w[desk/main/1 desk/bus/1 desk/bus/10].each { |mix| expect(Loomshuttle::Signal::Reach.listeners(laid, mix)).to eq(Loomshuttle::Signal::Reach.listeners(show, mix)) }
  end

  it "leaves a block that would move where it is, as long as one of its own outputs is free" do
    laid = join("desk/main/1", "box-a/out-socket/4").apply(show)
    changed = Loomshuttle::Show::Parts.changed(show, laid)
    expect(changed).to eq("slots" => {"desk/output/12" => [nil, Loomshuttle::Patch::Pick.new(from: "desk/main/1", tap: "post-fader")]})
  end

  it "prints a main on a lane where the model's lanes take mixes" do
    rack = hall("rack-20")
    expect(join("desk/main/1", "desk/card-send/18", rack).to_data).to include(slot: "desk/card-send/18", from: "desk/main/1")
  end
end

RSpec.describe "A join that is refused" do
  def refused(one, other, from = show) = Loomshuttle::Edits::Join.between(from, one, other)

  it "names what is held, and opens the block where the model can" do
    refusal = refused("list/row/5", "desk/channel/7")
    expect(refusal.why).to start_with("Drone pipes cannot be laid on channel 7 as it is. Channel 7 is patched with its whole block 1–8, and Box A socket 5 would").or start_with("#{show.label("list/row/5")} cannot be laid on channel 7 as it is.")
    expect(refusal.way.label).to eq("Open channel 1–8 to single choices, and lay it")
    expect(refusal.way.edit.apply(show).patch.slots["desk/channel/7"].from).to eq("desk/aes50-a-in/5")
    expect(Loomshuttle::Edits.from_outside(JSON.parse(JSON.generate(refusal.to_data[:way][:edit]))).apply(show).patch.slots["desk/channel/7"].from).to eq("desk/aes50-a-in/5")
  end

  it "says that a block was dropped on itself, and swaps it with another" do
    expect(Loomshuttle::Edits::Join.run(show, "desk/channel/1", "desk/channel/4", "block").why).to eq("Channel 4 is in the block that is held.")
    swapped = Loomshuttle::Edits::Join.run(show, "desk/channel/3", "desk/channel/12", "block").apply(show)
    expect(swapped.patch.slots.values_at("desk/channel/1", "desk/channel/9")).to eq(show.patch.slots.values_at("desk/channel/9", "desk/channel/1"))
  end

  it "says why nothing can be laid" do
    loose = edit("plug", row: "list/row/3", socket: nil).apply(show)
    name = show.label("list/row/3")
    expect(refused("list/row/3", "desk/channel/3", loose).why).to eq("Nothing can be laid between #{name} and channel 3 unless #{name} is plugged in: lay it on a socket first.")
    expect(refused("box-a/mic/1", "box-a/mic/2").why).to end_with(": both are places of one kind.")
    expect(refused("box-a/mic/1", "desk/mic/2").why).to end_with(": neither takes anything from a patch.")
    expect(refused("desk/mic/20", "rec/track/3").why).to match(/: track 3 takes .*lane.*, and local socket 20 arrives at none of them\.\z/i)
  end
end

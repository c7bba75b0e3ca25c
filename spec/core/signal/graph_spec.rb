# frozen_string_literal: true

require "core_helper"
require "support/random_edits"
require_relative "../../../bench/large_rig"

# What is walked once and shared must answer as walking anew would, on any patch.
RSpec.describe Loomshuttle::Signal::Graph do
  # Without memory: breadth first along every join, tracks end a way.
  def naive_listeners(show, id)
    edges = show.graph.edges.group_by(&:from)
    seen = [id]
    seen.each { |place|
      if place == id || !show.rig.kind_of(place).eql?("track")
        (edges[place] || []).each { |edge| seen << edge.to unless seen.include?(edge.to) }
      end
    }
    show.rig.listeners.select { |device| seen.any? { |place| place.start_with?("#{device.id}/") } }.map(&:id)
  end

  def naive_line(show, id)
    incoming = show.graph.edges.group_by(&:to)
    line = [id]
    while (edge = (incoming[line.last] || []).first) && edge.kind != :send && !line.include?(edge.from)
      line << edge.from
    end
    line
  end

  # Random joins, loops among them: channels to mixes, mixes to mixes, lanes to channels.
  def scrambled(seed)
    random = Random.new(seed)
    (1..60).reduce(seed.even? ? planted : hall("desk-48")) do |now, _|
      one = [-> { edit("send", channel: "desk/channel/#{random.rand(1..32)}", mix: "desk/bus/#{random.rand(1..16)}") },
        -> { edit("send", channel: "desk/bus/#{random.rand(1..16)}", mix: "desk/#{["main/1", "matrix/2"].sample(random: random)}") },
        -> { edit("connect", slot: "desk/channel/#{random.rand(1..32)}", from: "desk/card-return/#{random.rand(1..32)}") },
        -> { edit("connect", slot: "rec/lane-out/#{random.rand(1..32)}", from: "rec/track/#{random.rand(1..32)}") },
        -> { edit("open_block", slot: "desk/channel/#{random.rand(1..32)}") },
        -> {
          edit("connect",
            slot: "desk/card-send/#{random.rand(1..32)}",
            from: "desk/channel/#{random.rand(1..32)}",
            tap: "post-fader")
        }].sample(random: random).call
      one.apply(now).then { |after| after.is_a?(Loomshuttle::Refusal) ? now : after }
    end
  end

  4.times do |seed|
    it "reaches the same listeners and walks the same lines as without memory, patch #{seed}" do
      show = scrambled(seed)
      ids = show.rows.keys + show.rig.places.keys.select { |id| id.match?(%r{/(channel|track|bus|main|lane-out|card-send)/\d+\z}) }
      expect(ids.to_h { |id| [id, Loomshuttle::Signal::Reach.listeners(show, id).map(&:id)] }).to eq(ids.to_h { |id| [id, naive_listeners(show, id)] })
      expect(ids.to_h { |id| [id, show.graph.line_back(id)] }).to eq(ids.to_h { |id| [id, naive_line(show, id)] })
    end
  end

  # A show without memory of the ones that it was made from.
  def forgetful(show) = Loomshuttle::Show.new(**show.to_h)
  def joins(graph) = graph.edges.map(&:to_a).sort_by(&:inspect)

  [2].each do |seed|
    it "has the same joins after many edits, each laid over what was there, as laid anew (seed #{seed})" do
      edits = RandomEdits.new(seed)
      followed = 0
      400.times.reduce(show) do |now, i|
        one = Loomshuttle::Edits.from_h(edits.next)
        after = one.apply(now)
        next now if after.is_a?(Loomshuttle::Refusal) || after.rig.devices.size < 4

        # Sometimes several edits come before anybody looks at the show.
        next after if i % 3 == 0

        fresh = forgetful(after)
        followed += 1 if after.rig.equal?(now.rig)
        expect(joins(after.graph)).to eq(joins(fresh.graph)), "after #{one.to_data}"
        places = [*after.patch.slots.keys, *after.patch.slots.values.map(&:from), *after.patch.plugs.keys, *after.patch.plugs.values].uniq
        ends = ->(graph) { places.map { |id| [graph.from(id), graph.to(id)].map { |some| some.map(&:to_a).sort_by(&:inspect) } } }
        expect(ends[after.graph]).to eq(ends[fresh.graph]), "after #{one.to_data}"
        after
      rescue Loomshuttle::BadInput
        now
      end
      expect(followed).to be > 10
    end
  end

  it "follows a raw lane when the channel that it is taken from takes another socket, or the computer" do
    by_lane = rack
    expect(by_lane.graph.line_back("desk/card-send/1").last).to eq("list/row/1")
    moved = edit("connect", slot: "desk/channel/1", from: "desk/mic/2").apply(by_lane)
    expect(moved.graph.line_back("desk/card-send/1").last).to eq("list/row/2")
    turned = edit("connect", slot: "desk/channel/1", from: "desk/card-return/1").apply(moved)
    expect(turned.graph.to("desk/card-send/1")).to eq([])
  end

  it "finds ends for every source of a large rig, and only says what is so: no clock between desks, sends that follow faders, sources without a track" do
    large = Bench::LargeRig.show
    expect(large.rows.keys.map { |id| Loomshuttle::Signal::Trace.forward(large, id).ends.size }.min).to be_positive
    expect(rules(large).uniq).to match_array(%w[clock-leader unplugged-listener unheard-output tap-choice beyond-card])
    expect(large.rig.places.size).to be > 2000
  end

  it "keeps the fixed joins with the rig: a new patch makes none anew" do
    before = Loomshuttle::Signal::Wiring.of(show.rig, 48_000)
    expect(Loomshuttle::Signal::Wiring.of(show(edit("clear", slot: "desk/output/1")).rig, 44_100)).to equal(before)
    expect(Loomshuttle::Signal::Wiring.of(show.rig, 96_000).edges.size).to be < before.edges.size
  end
end

RSpec.describe Loomshuttle::Show::Parts do
  it "says what an edit touched, and nothing else" do
    after = edit("group", edits: [{kind: "plug", row: "list/row/1", socket: "desk/mic/1"}, {kind: "send", channel: "desk/channel/1", mix: "desk/bus/1", on: false}]).apply(show)
    expect(described_class.touched(show, after)).to contain_exactly("plugs/list/row/1", "sends/desk/channel/1>desk/bus/1")
    expect(described_class.touched(show, show)).to eq([])
  end

  it "takes any two shows apart so that one can be made of the other" do
    other = show(edit("device", id: "box-b", profile: "stage-box-16x8"),
      edit("rows", rows: {"list/row/3" => nil}),
      edit("scene", name: "A"),
      edit("show_rate", rate_hz: 96_000),
      edit("remove_device", id: "ears"))
    expect(Loomshuttle::Edits::Put.between(show, other).apply(show)).to eq(other)
    expect(Loomshuttle::Edits::Put.between(other, show).apply(other)).to eq(show)
    expect(Loomshuttle::Edits::Put.between(other, show).apply(other).rig.devices.keys).to eq(show.rig.devices.keys)
    expect { edit("put", parts: {"lamps" => {}}) }.to raise_error(Loomshuttle::BadInput, /edit.parts: .*lamps.* is not usable; put takes an object of about, profiles/)
  end
end

RSpec.describe Loomshuttle::Rig::Standard do
  # From memory: AES50 48/24, AES10 (MADI) 64/32, AES3 2, ADAT 8/4 lanes at 48/96 kHz.
  {"AES50" => [48, 24, 100], "MADI" => [64, 32, 100], "AES3" => [2, 2, 100], "ADAT" => [8, 4, 10]}.each do |name, (at_48, at_96, metres)|
    it("knows #{name}") do
      expect([described_class[name].lanes_at(44_100),
        described_class[name].lanes_at(96_000),
        described_class[name].length_max_m]).to eq([at_48, at_96, metres])
    end
  end

  # USB 2.0 high speed: one isochronous endpoint of 3 x 1,024 bytes a microframe, 8,000
  # microframes a second, 32-bit slots at 48 kHz.
  it("bounds USB by its isochronous bandwidth") { expect(described_class["USB"].lanes_at(48_000)).to eq(3 * 1024 * 8000 / (48_000 * 4)) }
end

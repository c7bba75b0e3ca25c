# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Signal::Trace do
  it "follows a microphone to its file and to whoever hears it" do
    trace = described_class.forward(show, "list/row/9")
    expect(trace.sentence).to eq("Accordion goes Box A socket 9 → channel 9, heard at Main PA, Booth wedge, Livestream; recorded on track 9.")
    expect(trace.ends.map(&:id)).to include("rec/track/9", "pa/in/1", "stream/in/2", "booth/in/1")
    expect(trace.steps.first).to have_attributes(from: "list/row/9", to: "box-a/mic/9", kind: :plug)
  end

  it "says where and why a thread stops" do
    expect(described_class.forward(planted, "list/row/9").sentence).to end_with("but card lane 9 listens to local socket 9, where nothing is plugged: track 9 would record silence.")
  end

  it "follows a track back to where it comes from" do
    trace = described_class.back(planted, "rec/track/9")
    expect(trace.ends.map(&:to_h)).to eq([{id: "desk/mic/9", why: "nothing is plugged in here"}])
    expect(trace.sentence).to eq("Track 9 ← local socket 9, where nothing is plugged.")
  end

  it "goes back through a mix to all that it mixes" do
    expect(described_class.back(show, "ears/in/1").ends.map(&:id)).to match_array(%w[songs/role/organ songs/role/tide songs/role/click])
  end

  it "does not play a recorded track on by itself" do
    expect(described_class.forward(show, "list/row/1").steps.map(&:to)).not_to include("rec/lane-out/1")
    expect(described_class.forward(show, "rec/track/1").steps.map(&:to)).to include("desk/card-return/1")
  end

  it "refuses a place that is not there" do
    expect { described_class.forward(show, "desk/channel/40") }.to raise_error(Loomshuttle::BadInput, /desk\/channel\/40/)
    expect { described_class.forward(show, "nonsense") }.to raise_error(Loomshuttle::BadInput, %r{device/family/number})
  end

  it "ends where a path comes round in a circle" do
    circle = show(edit("connect", slot: "desk/output/1", from: "desk/channel/32"), edit("connect", slot: "desk/card-send/25", from: "desk/output/1"))
    expect(described_class.forward(circle, "desk/channel/25").steps.size).to be < 200
  end
end

RSpec.describe Loomshuttle::Signal::Reach do
  it "lists who can hear a source" do
    expect(described_class.listeners(show, "songs/role/click").map(&:name)).to eq(["Booth wedge", "Drummer's in-ear"])
    expect(described_class.listeners(planted, "songs/role/click").map(&:name)).to include("Livestream")
  end
end

RSpec.describe Loomshuttle::Screens::Loom do
  let(:loom) { described_class.weave(planted, Loomshuttle::Screens::Looms.patch(planted)) }

  it "joins neighbouring posts by what the graph says" do
    expect(loom[:strands].map { |strand| [strand[:from], strand[:to]] }).to include(%w[list/row/1 box-a/mic/1],
      %w[box-a/mic/1 desk/channel/1],
      %w[box-a/mic/1 desk/card-send/1],
      %w[desk/card-send/1 rec/track/1])
  end

  it "colours a knot by what runs through it, and leaves silent ones plain" do
    knots = loom[:posts].flat_map { |post| post[:knots] }.to_h { |knot| [knot[:id], knot] }
    expect(knots["rec/track/1"]).to include(row: "list/row/1", colour: "weld")
    expect(knots["rec/track/9"]).to include(row: nil, colour: nil)
  end

  it "frays where a track waits for its source" do
    expect(loom[:frays].map { |fray| fray.values_at(:from, :to) }).to eq((9..12).map { |n| ["desk/channel/#{n}", "rec/track/#{n}"] })
  end

  it "brackets blocks with what they take" do
    lanes = loom[:posts].find { |post| post[:key] == "lane" }
    expect(lanes[:brackets].map { |bracket| bracket[:label] }).to start_with("Box A socket 1–8", "local socket 9–16")
  end

  it "does not draw through mixes that stand on no post" do
    posts = Loomshuttle::Screens::Looms.named("patch", show)
    channels = posts.find { |post| post[:key] == "channel" }
    without = posts.map { |post| post.equal?(channels) ? post.merge(ids: post[:ids] - post[:aside], aside: []) : post }
    expect(described_class.weave(show, without)[:strands].map { |strand| strand[:to] }).not_to include("desk/card-send/25")
  end

  it "draws a printed mix from the mix to its lane, and no send" do
    printed = loom[:strands].select { |strand| strand[:from].match?(%r{/(main|bus)/}) }.map { |strand| strand.values_at(:from, :to) }
    expect(printed).to include(%w[desk/main/1 desk/card-send/25], %w[desk/bus/5 desk/card-send/27])
    expect(loom[:strands].map { |strand| strand[:to] }.grep(%r{/(main|bus|matrix)/})).to eq([])
    expect(loom[:posts].flat_map { |post| post[:knots] }.select { |knot| knot[:aside] }.map { |knot| knot[:id] }).to include("desk/main/1", "desk/bus/16", "desk/matrix/6")
  end

  it "keeps the colours of a swung desk's channels" do
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(planted).edit.apply(planted)
    channels = described_class.weave(swung, Loomshuttle::Screens::Looms.soundcheck(swung))[:posts].last[:knots]
    expect(channels.first(12).map { |knot| knot[:row] }).to eq((1..12).map { |n| "list/row/#{n}" })
  end

  # U8, U16.
  it "branches where the signal branches, and names every track that gets it" do
    split = show(edit("open_block", slot: "desk/channel/17"), edit("split", socket: "box-a/mic/9"), edit("connect", slot: "desk/channel/20", from: "desk/aes50-a-in/9"))
    expect(Loomshuttle::Signal::Trace.forward(split, "list/row/9").sentence).to start_with("Accordion goes Box A socket 9 → channel 9 and channel 20, heard at ")
    other = show.with(tracks: show.tracks.transform_values { |track| (track.number == 9) ? track.with(row: nil) : track }.freeze)
    expect(Loomshuttle::Signal::Trace.forward(other, "list/row/9").sentence).to end_with("; recorded on track 9.")
  end
end

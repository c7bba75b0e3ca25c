# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Capture::Overview do
  it "is read back by what draws waveforms, lanes of different lengths side by side" do
    random = Random.new(5)
    lanes = [7, 3, 0].map { |blocks| Numo::Int16.cast(Array.new(blocks) { [-random.rand(1000), random.rand(1000)] }.then { |rows| rows.empty? ? Numo::Int16.zeros(0, 2) : rows }) }
    pictures = Loomshuttle::Capture::Picture.of(described_class.of(lanes), 3, 0...(7 * 1024), 7)
    expect(pictures[0]).to eq(lanes[0].to_a)
    expect(pictures[1]).to eq(lanes[1].to_a + [[0, 0]] * 4)
    expect(pictures[2]).to eq([[0, 0]] * 7)
  end

  it "of nothing is nothing" do
    expect(described_class.of([])).to eq("")
  end
end

RSpec.describe Loomshuttle::Capture::Origin do
  it "says what each side of a track stood for: row, source, lane, tap and where it was plugged in" do
    tracks = Loomshuttle::Capture::Session.new.tracks(show).map { |track| described_class.noted(show, track) }
    expect(tracks.find { |track|
      track.key == "rec/track/9"
    }.sides).to eq([{track: "rec/track/9", name: "Accordion", row: "list/row/9", source: "Accordion", lane: 9, tap: "raw", gear: "Box A socket 9"}])
    pair = tracks.find { |track| track.sides.size == 2 }
    expect(pair.sides.map { |side| side[:lane] }).to eq(pair.lanes)
    plan = Loomshuttle::Capture::TrackPlan.from_h(JSON.parse(JSON.generate(pair.to_h)))
    expect(plan).to eq(pair)
  end

  it "says nothing of what nobody knows" do
    bare = show(edit("clear", slot: "rec/track/12"), edit("plug", row: "list/row/12"))
    expect(described_class.of(bare, bare.tracks["rec/track/12"]).keys).to eq(%i[row source])
    expect(described_class.of(bare, nil)).to eq({})
  end
end

# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/standin"
require "support/checked_stage"

# What is planted on the simulated stage is what the ear finds, with the real desk between them.
RSpec.describe Loomshuttle::Standin::Simulation do
  before(:all) do
    @band = Loomshuttle::Standin::Band.new(sample_rate_hz: 48_000)
    @sounds = Loomshuttle::Standin::Stage::Sounds.new(48_000)
  end

  def stage(of = show) = CheckedStage.new(of, @band, @sounds)
  def row(number) = "list/row/#{number}"

  def planted(kind, number, other = nil, of: show)
    stage(of).tap { |one| expect(one.console.plant(kind, row(number), other ? row(other) : "")).to be_nil }
  end

  def kinds(found) = [found[:place], found[:lane], found[:faults].map { |fault| fault[:kind] }]

  it "lets every source of the list be found at its place, one after the other" do
    whole = stage
    expect((1..12).map { |n| kinds(whole.judged(row(n))) }).to eq((1..12).map { |n| ["right", n, []] })
  end

  it "plants what the ear finds" do
    expect(kinds(planted("swap", 7, 8).judged(row(7)))).to eq(["elsewhere", 8, []])
    expect(kinds(planted("swap", 2, 11).judged(row(11)))).to eq(["elsewhere", 2, []])
    %w[dead phantom lane].each { |kind| expect([kind, planted(kind, 5).judged(row(5))]).to eq([kind, nil]) }
    expect(kinds(planted("hum", 5).judged(row(5)))).to eq(["right", 5, ["hum"]])
    expect(kinds(planted("clip", 5).judged(row(5)))).to eq(["right", 5, ["clipped"]])
    expect(kinds(planted("bleed", 5).judged(row(5)))).to eq(["right", 5, []])
  end

  # It was planted and never found: the other side heard nothing unless bleed was planted too.
  it "turns the polarity of one side of a pair, which the other hears" do
    paired = show(edit("rows", rows: {row(7) => {pair: row(8)}}), edit("rows", rows: {row(8) => {pair: row(7)}}))
    whole = stage(paired)
    expect([7, 8].map { |n| kinds(whole.judged(row(n))) }).to eq([["right", 7, []], ["right", 8, []]])
    whole.console.plant("polarity", row(7), "")
    # What the other hears comes through the air, not through the cable that is wired wrongly.
    expect([7, 8, 9].map { |n| kinds(whole.judged(row(n))) }).to eq([["right", 7, ["polarity"]], ["right", 8, ["polarity"]], ["right", 9, []]])
  end

  it "has the other side of a pair hear what is tapped at a dead microphone" do
    paired = show(edit("rows", rows: {row(7) => {pair: row(8)}}), edit("rows", rows: {row(8) => {pair: row(7)}}))
    dead, swapped = planted("dead", 7, of: paired), planted("swap", 7, 8, of: paired)
    expect([7, 8].map { |n| kinds(dead.judged(row(n))) }).to eq([["elsewhere", 8, ["partner"]], ["right", 8, []]])
    expect(kinds(swapped.judged(row(7)))).to eq(["elsewhere", 8, []])
    verdict = Loomshuttle::Linecheck::Verdict.new(way: "", who: "", at: "", place: "elsewhere", lane: 8, faults: [{kind: "partner"}])
    expect(Loomshuttle::Linecheck::Said.of(paired, row(7), verdict).last)
      .to eq("That is the place of 8 Overhead R. Plugs 7 and 8 at Box A look swapped. Or nothing comes from it, and that one hears it from where it stands: go on, and tap that one.")
  end

  it "turns the polarity of one of two microphones of a source, whose names say that they are" do
    double = stage(show(edit("rows", rows: {row(5) => {name: "Kick in"}, row(6) => {name: "Kick out"}})))
    expect(kinds(double.judged(row(5)))).to eq(["right", 5, []])
    double.console.plant("polarity", row(5), "")
    expect(double.judged(row(5))[:faults]).to match([include(kind: "polarity", row: row(6), lane: 6)])
    # The same in neighbours that have nothing to do with each other is no fault.
    other = stage(show(edit("rows", rows: {row(5) => {name: "Kick in"}, row(6) => {name: "Snare out"}})))
    %w[bleed polarity].each { |kind| other.console.plant(kind, row(5), "") }
    expect(kinds(other.judged(row(5)))).to eq(["right", 5, []])
  end

  # Its preamp is open so far that what bleeds into it is louder there than on the lane where it is tapped.
  it "is not misled by a neighbour that is open much too far" do
    loud = planted("clip", 9)
    loud.console.plant("bleed", row(10), "")
    expect(kinds(loud.judged(row(10)))).to eq(["right", 10, []])
  end

  it "stays as it is when the plan is mended, and is mended at the box" do
    swapped = planted("swap", 7, 8)
    mended = Loomshuttle::Linecheck::Repatch.of(show, row(7), 8).edit.apply(show)
    [7, 8].each { |n| swapped.console.plug(row(n), mended.patch.plugs[row(n)]) }
    expect([7, 8].map { |n| kinds(swapped.judged(row(n), show: mended)) }).to eq([["right", 8, []], ["right", 7, []]])
    swapped.console.unplant("swap", row(7))
    expect(kinds(swapped.judged(row(7), show: mended))).to eq(["right", 8, []])
  end

  it "is forgotten with the sources that it was about" do
    swapped = planted("swap", 7, 8)
    swapped.console.plant("hum", row(1), "")
    swapped.console.restage(show(edit("rows", rows: {row(8) => nil})))
    expect(swapped.console.simulation.planted.map(&:kind)).to eq(["hum"])
  end

  it "refuses what there is not, and taps while the band plays" do
    console = stage.console
    expect([console.plant("gremlin", row(1), ""), console.plant("hum", row(99), ""), console.plant("swap", row(1), row(1)), console.tap(row(99))])
      .to eq(["a fault is one of #{described_class::FAULTS.join(", ")}, not gremlin", "there is no source list/row/99", "it cannot be swapped with itself", "there is no source list/row/99"])
    console.quiet(0)
    expect(console.tap(row(1))).to eq("nobody can be heard tapping while the band plays")
  end

  it "changes no sample while nothing is simulated" do
    plain, with_sounds = [nil, @sounds].map do |sounds|
      Loomshuttle::Standin::Desk.new(@band, frames: 1024).tap { |desk| desk.routing = Loomshuttle::Standin::Routing.new(Loomshuttle::Standin::Console.new(show), sounds) }
    end
    expect(plain.process(131_072, nil).dup).to eq(with_sounds.process(131_072, nil))
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/web_model"

RSpec.describe "The tempo map in the page" do
  def call(function, *given) = WebModel.call("tempoMap", function, *given)

  let(:map) { {meters: [{bar: 1, meter: "4/4"}, {bar: 5, meter: "7/8"}], tempi: [{bar: 1, bpm: 100}, {bar: 1, quarters: "1/2", bpm: "280/3"}, {bar: 3, bpm: 120, ramp: true}], pickup_beats: 0} }

  it "is that of a song without changes, and none without a tempo" do
    expect(call("mapOf", {bpm: 97.5, beats_per_bar: 3, tempo: nil})).to eq("meters" => [{"bar" => 1, "meter" => "3/4"}], "tempi" => [{"bar" => 1, "bpm" => 97.5, "quarters" => 0, "ramp" => false}], "pickup_beats" => 0)
    expect(call("mapOf", {bpm: nil, beats_per_bar: 4, tempo: nil})).to be_nil
  end

  it "lists what changes at each bar, tempo and time signature together" do
    expect(call("changesOf", map).map { |one| one.values_at("bar", "within", "bpm", "meter", "ramp") }).to match(
      [[1, 0, 100, "4/4", false], [1, 0.5, be_within(0.001).of(93.333), nil, false], [3, 0, 120, nil, true], [5, 0, nil, "7/8", false]]
    )
  end

  it "is changed bar by bar; the first bar always has both" do
    expect(call("withTempo", map, 2, 80, false)["tempi"].map { |one| one.values_at("bar", "bpm") }).to eq([[1, 100], [1, "280/3"], [2, 80], [3, 120]])
    expect(call("withTempo", map, 3, nil, false)["tempi"].map { |one| one["bar"] }).to eq([1, 1])
    expect(call("withTempo", map, 1, nil, false)["tempi"].size).to eq(3)
    expect(call("withTempo", map, 1, 90, true)["tempi"].map { |one| one.values_at("bpm", "ramp") }.first).to eq([90, true])
    expect(call("withMeter", map, 5, nil)["meters"]).to eq([{"bar" => 1, "meter" => "4/4"}])
    expect(call("withMeter", map, 1, nil)["meters"].size).to eq(2)
    expect(call("withMeter", map, 3, "3/4")["meters"].map { |one| one["bar"] }).to eq([1, 3, 5])
  end

  it "reads time signatures as they are typed" do
    expect(["4/4", " 7 / 8 ", "12/16", "4/3", "0/4", "x", "4", ""].map { |text| call("typedMeter", text) }).to eq(["4/4", "7/8", "12/16", nil, nil, nil, nil, nil])
  end
end

# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Lineup do
  def lines(show, state = described_class::State.new) = described_class::Lines.of(show, state)

  it "has every lane that a role, a mix or one song's role is on, and where it should show" do
    expect(lines(show).map { |line| line.values_at(:number, :carries, :private, :arrives) }).to eq(
      [[29, "organ", false, "Channel 29"], [30, "tide", false, "Channel 30"], [31, "click", true, "Channel 31"]]
    )
    more = show(edit("mix", mix: "band", name: "Band", members: {"songs/role/tide" => 0, "songs/role/click" => 0}), edit("connect", slot: "rec/lane-out/9", from: "songs/mix/band"),
      edit("role_terms", role: "organ", song: "low-tide-waltz", lanes: ["rec/lane-out/10"]))
    expect(lines(more).map { |line| line.values_at(:number, :carries, :private) }.first(2)).to eq([[9, "Band", true], [10, "organ", false]])
    expect(lines(show).last[:heard]).to eq(Loomshuttle::Signal::Reach.listeners(show, "songs/role/click").map(&:name))
  end

  it "keeps what was heard as long as the lane carries the same" do
    state = described_class::State.new.ticked("rec/lane-out/29", right: false, carries: "songs/role/organ", who: "Ilse", where: " in the wedge ")
    expect(lines(show, state).first[:tick]).to eq({right: false, who: "Ilse", where: "in the wedge"})
    expect(described_class::State.from_data(JSON.parse(JSON.generate(state.to_data)))).to eq(state)
    other = edit("connect", slot: "rec/lane-out/29", from: "songs/role/tide").apply(show)
    expect(lines(other, state).first[:tick]).to be_nil
    expect(state.ticked("rec/lane-out/29", right: nil, carries: nil, who: "Ilse")).to eq(described_class::State.new)
  end

  # Counted in the sound itself: runs of it, and by the way through zero how high each is.
  it "says a lane's number in beeps" do
    [1, 9, 10, 23, 31, 64].each do |number|
      [44_100, 48_000].each do |rate_hz|
        sound = described_class::Beeps.of(number, rate_hz)
        loud = sound.abs.ge(1e-4).where.to_a
        runs = loud.slice_when { |one, other| other - one > rate_hz / 20 }.to_a
        parts = runs.map { |run| sound[run.first..run.last].to_a }
        pitches = parts.map { |part| part.each_cons(2).count { |one, other| one.negative? != other.negative? } / 2.0 * rate_hz / part.size }
        expect([pitches.count { |hz| (hz - 440).abs < 15 }, pitches.count { |hz| (hz - 880).abs < 30 }]).to eq(number.divmod(10)), "#{number}: #{pitches.inspect}"
        expect(sound.abs.max).to be_within(0.001).of(10**(-6 / 20.0))
      end
    end
  end
end

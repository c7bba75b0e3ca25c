# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Music::Click do
  def click(bpm: 120, meter: "4/4", bars: 2, rate_hz: 48_000, map: nil, **style)
    described_class.new(map || Loomshuttle::Music::TempoMap.of(bpm: bpm, meter: Loomshuttle::Music::Meter.parse(meter)), described_class::Style.new(**style), rate_hz: rate_hz,
      to_bar: bars + 1)
  end

  def kinds(one) = one.onsets.map { |_, kind| {accent: "A", beat: "b", part: "."}.fetch(kind) }.join

  # Exact arithmetic: a beat at b bpm lasts 60/b s; positions are rounded from the exact sum.
  [[127, 44_100], [100, 48_000], [93.5, 96_000]].each do |bpm, rate_hz|
    it "is never more than half a sample off in an hour at #{bpm} bpm and #{rate_hz} Hz" do
      one = click(bpm: bpm, rate_hz: rate_hz, bars: (bpm * 15).ceil)
      worst = one.onsets.each_with_index.map { |(frame, _), beat| (frame - Rational(60 * rate_hz * beat) / Rational(bpm.to_s)).abs }.max
      expect(worst).to be <= Rational(1, 2)
    end
  end

  it "starts each sound at its onset to the sample, however the blocks fall, in every sound there is" do
    Loomshuttle::Music::ClickSounds::NAMES.each do |sound|
      one = click(bpm: 127, rate_hz: 44_100, bars: 2, sound: sound, subdivide: 3)
      whole = one.render(0, one.frames)
      [[1, 900], [64, 100_000], [4097, one.frames]].each do |block, frames|
        parts = (0...frames).step(block).map { |from| one.render(from, [block, frames - from].min) }
        expect([sound, block, Numo::SFloat.hstack(parts) == whole[0...frames]]).to eq([sound, block, true])
      end
      expect(one.onsets.map { |frame, _| whole[frame].positive? }.uniq).to eq([true])
      expect(one.onsets.drop(1).map { |frame, _| whole[frame - 1].abs < 0.002 }.uniq).to eq([true])
    end
  end

  describe "of sounds that were brought" do
    let(:map) { Loomshuttle::Music::TempoMap.of(bpm: 120) }
    let(:beat) { Numo::SFloat[0.5, 0.25, 0.125] }

    def own(brought, **style) = described_class.new(map, described_class::Style.new(sound: "own", **style), rate_hz: 48_000, to_bar: 2, brought: brought)
    # The first sample of each click, in dB beside the brought one's.
    def heights(one) = one.onsets.map { |frame, _| (20 * Math.log10(one.render(frame, 1)[0] / 0.5)).round(2) }

    it "has them as they are, each where it belongs" do
      one = own({accent: Numo::SFloat[1.0, 0.9], beat: beat, part: Numo::SFloat[0.125]}, subdivide: 2)
      expect(one.onsets.first(4).map { |frame, _| one.render(frame, 4).to_a.map { |sample| sample.round(3) } })
        .to eq([[1.0, 0.9, 0.0, 0.0], [0.125, 0.0, 0.0, 0.0], [0.5, 0.25, 0.125, 0.0], [0.125, 0.0, 0.0, 0.0]])
    end

    it "takes the beat's for what has none, a beat behind its accent and a part behind its beat, and follows the levels" do
      softer = {subdivide: 2, level_db: -10.0, subdivision_db: -2.0}
      expect([heights(own({beat: beat})), heights(own({beat: beat, accent: beat}, subdivide: 2)).first(4), heights(own({beat: beat}, **softer)).first(4)])
        .to eq([[0.0, -3.0, -3.0, -3.0], [0.0, -6.0, 0.0, -6.0], [-10.0, -21.0, -13.0, -21.0]])
    end

    it "is refused without a sound for its beat" do
      [nil, {}, {accent: beat}].each { |brought| expect { own(brought) }.to raise_error(Loomshuttle::BadInput, /brought/) }
    end
  end

  it "accents the first beat, or those that are wanted, or none, and divides beats" do
    expect([kinds(click), kinds(click(meter: "6/8", accents: [1, 4])), kinds(click(accents: [])), kinds(click(bars: 1, subdivide: 3)), kinds(click(meter: "3/4", subdivide: 2))])
      .to eq(%w[AbbbAbbb AbbAbbAbbAbb bbbbbbbb A..b..b..b.. A.b.b.A.b.b.])
    expect([kinds(click(pace: "half")), kinds(click(bars: 1, pace: "double")), kinds(click(bars: 1, pace: "double", subdivide: 2))]).to eq(%w[AbAb Abbbbbbb A.b.b.b.b.b.b.b.])
  end

  it "has levels that fall from accent to beat to what divides it, and one level for all" do
    one = click(bars: 1, subdivide: 2)
    peak = ->(click, at) { Loomshuttle::Audio::Scale.dbfs(click.render(click.onsets[at].first, 500).abs.max).round(1) }
    expect((0..2).map { |at| peak[one, at] }).to eq([-12.0, -21.0, -15.0])
    softer = click(bars: 1, subdivide: 2, level_db: -6, subdivision_db: -4)
    expect((0..2).map { |at| peak[softer, at] }).to eq([-18.0, -31.0, -21.0])
  end

  it "counts bars in before bar 1, in its tempo and time signature" do
    one = click(bpm: 120, meter: "3/4", bars: 2, count_in_bars: 2)
    expect([one.bar_1_frame, one.frames, kinds(one), one.onsets.map(&:first).first(4)]).to eq([144_000, 288_000, "AbbAbbAbbAbb", [0, 24_000, 48_000, 72_000]])
  end

  it "follows changes of tempo and time signature" do
    map = Loomshuttle::Music::TempoMap.from_h("meters" => [{"bar" => 1, "meter" => "4/4"}, {"bar" => 2, "meter" => "6/8"}],
      "tempi" => [{"bar" => 1, "bpm" => 120}, {"bar" => 2, "bpm" => 60}])
    expect(click(map: map, bars: 2).onsets).to eq([[0, :accent], [24_000, :beat], [48_000, :beat], [72_000, :beat], [96_000, :accent], *(1..5).map { |n|
      [96_000 + n * 24_000, :beat]
    }])
  end

  it "ends each sound where the next begins, however fast they are" do
    one = click(bpm: 999, subdivide: 12, sound: "cowbell", bars: 1)
    frames = one.onsets.map(&:first)
    expect(frames).to eq(frames.uniq.sort)
    one.onsets.each { |frame, kind| expect(one.render(frame, 50)).to eq(Loomshuttle::Music::ClickSounds.of("cowbell", 48_000)[kind][0...50]) }
  end

  {accents: [[5], /accent/], subdivide: [0, /subdivide/], pace: ["triple", /pace/], count_in_bars: [-1, /count_in/], sound: ["gong", /sound.*beep, woodblock/], level_db: [40, /level_db/]}.each do |field, (value, words)|
    it("refuses #{field} #{value.inspect}") { expect { click(field => value) }.to raise_error(Loomshuttle::BadInput, words) }
  end
end

# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Music::TempoMap do
  def map(meters, tempi, **more)
    described_class.from_h("meters" => meters.map { |bar, meter| {"bar" => bar, "meter" => meter} }, "tempi" => tempi.map { |bar, bpm, quarters, ramp| {"bar" => bar, "bpm" => bpm, "quarters" => quarters || 0, "ramp" => ramp || false} },
      **more.transform_keys(&:to_s))
  end

  # A beat at b bpm lasts 60/b s.
  it "places every beat of an hour at 127 bpm and 44.1 kHz within half a sample of the exact time" do
    one = described_class.of(bpm: 127)
    worst = (0..7_620).map { |quarter| (one.frame(quarter, 44_100) - Rational(60 * 44_100 * quarter, 127)).abs }.max
    expect(worst).to be <= Rational(1, 2)
    expect([one.seconds(7_620), one.frame(4, 44_100)]).to eq([3600, 83_339])
  end

  it "takes a decimal number for what it says" do
    expect([described_class.of(bpm: 93.7).bpm_at(0), described_class.of(bpm: "93.7").bpm_at(0), described_class.of(bpm: "280/3").bpm_at(0)]).to eq([937/10r, 937/10r, 280/3r])
  end

  it "knows bars and beats through changes of the time signature, and both ways agree" do
    one = map([[1, "4/4"], [3, "7/8"], [5, "3/4"]], [[1, 100]])
    expect([1, 2, 3, 4, 5, 6, 0, -1].map { |bar| one.bar_start(bar) }).to eq([0, 4, 8, 23/2r, 15, 18, -4, -8])
    expect([0, 7, 8, 17/2r, 15, 31/2r, -1, -1/2r].map { |quarters|
      one.place(quarters)
    }).to eq([[1, 1, 0], [2, 4, 0], [3, 1, 0], [3, 2, 0], [5, 1, 0], [5, 1, 1/2r], [0, 4, 0], [0, 4, 1/2r]])
    random = Random.new(7)
    300.times do
      quarters = Rational(random.rand(-2_000..20_000), random.rand(1..97))
      bar, beat, part = one.place(quarters)
      expect(one.bar_start(bar) + (beat - 1 + part) * one.meter(bar).beat_quarters).to eq(quarters)
    end
  end

  # A second, plain model: times are summed quarter by quarter in small steps.
  it "agrees with sums of small steps for random maps with ramps, and turns times back into the same places" do
    random = Random.new(11)
    20.times do
      bars = [1, *Array.new(random.rand(0..4)) { random.rand(2..20) }].uniq.sort
      one = map([[1, "4/4"], *([[random.rand(2..9), "#{random.rand(2..9)}/8"]] if random.rand < 0.5)], bars.map { |bar| [bar, random.rand(60..180), 0, random.rand < 0.4] })
      at = 0r
      time = 0r
      60.times do
        step = Rational(1, 32)
        # Steps never cross a beat of an eighth: the tempo is the same throughout.
        expect(one.seconds(at)).to eq(time)
        expect(one.quarters(time)).to eq(at)
        time += step * 60 / one.bpm_at(at)
        at += step
      end
    end
  end

  # The straight line's integral: 60 / (b1 - b0) * ln(b1 / b0) seconds a quarter.
  it "goes evenly from one tempo to the next in a ramp, near to what a curve would be" do
    one = map([[1, "4/4"]], [[1, 100, 0, true], [9, 140]])
    expect([0, 31, 32, 40].map { |quarters| one.bpm_at(quarters).to_f.round(3) }).to eq([100.625, 139.375, 140.0, 140.0])
    expect(one.seconds(32).to_f).to be_within(0.002).of(32 * 60.0 / 40 * Math.log(1.4))
    # One that nothing follows stays where it is.
    expect(map([[1, "4/4"]], [[1, 100, 0, true]]).seconds(400)).to eq(240)
  end

  it "comes back from its data as it was, fractions too" do
    one = map([[1, "6/8"], [5, "5/16"]], [[1, "60000000/472441"], [2, 90.5, "3/2", true], [9, 120]], pickup_beats: 2)
    expect(described_class.from_h(JSON.parse(JSON.generate(one.to_data)))).to eq(one)
  end

  {"a tempo of nothing" => [[[1, "4/4"]], [[1, 0]], /bpm: 0 is not usable; 5 to 999/],
   "a negative tempo" => [[[1, "4/4"]], [[1, -120]], /5 to 999/], "an absurd tempo" => [[[1, "4/4"]], [[1, "1e9"]], /5 to 999/],
   "no number" => [[[1, "4/4"]], [[1, "fast"]], /5 to 999/],
   "a time signature of thirds" => [[[1, "4/3"]], [[1, 100]], %r{meter}], "one without beats" => [[[1, "0/4"]], [[1, 100]], /meter/],
   "changes out of order" => [[[1, "4/4"], [5, "3/4"], [5, "4/4"]], [[1, 100]], /meters: "1, 5, 5"/], "none at bar 1" => [[[1, "4/4"]], [[2, 100]], /tempi: "2"/],
   "a change beyond its bar" => [[[1, "3/4"]], [[1, 100], [2, 90, 3]], /quarters/]}.each do |name, (meters, tempi, words)|
    it("refuses #{name}") { expect { map(meters, tempi) }.to raise_error(Loomshuttle::BadInput, words) }
  end
end

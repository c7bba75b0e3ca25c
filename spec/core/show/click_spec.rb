# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Show::Click do
  # Exact arithmetic: a beat at b bpm lasts 60/b s; positions are rounded from the exact sum.
  [[127, 44_100], [100, 48_000], [93.5, 96_000]].each do |bpm, rate_hz|
    it "is never more than half a sample off in an hour at #{bpm} bpm and #{rate_hz} Hz" do
      click = described_class.new(bpm: bpm, beats_per_bar: 4, sample_rate_hz: rate_hz)
      beats = (bpm * 60).to_i
      worst = (0..beats).map { |beat| (click.onset(beat) - Rational(60 * rate_hz * beat) / bpm.to_r).abs }.max
      expect(worst).to be <= Rational(1, 2)
    end
  end

  it "starts each sound at its onset to the sample, however the blocks fall" do
    click = described_class.new(bpm: 127, beats_per_bar: 4, sample_rate_hz: 44_100)
    whole = click.render(0, 100_000)
    onsets = (0...100_000).step(1000).flat_map { |from| click.render(from, 1000).to_a }
    expect(onsets).to eq(whole.to_a)
    expect((1..4).map { |beat| [whole[click.onset(beat) - 1], whole[click.onset(beat)] > 0] }).to all(eq([0, true]))
  end

  it "accents the first beat of a bar" do
    click = described_class.new(bpm: 120, beats_per_bar: 3, sample_rate_hz: 48_000)
    sounds = (0..3).map { |beat| click.render(click.onset(beat), 500).to_a }
    expect([sounds[0] == sounds[3], sounds[1] == sounds[2], sounds[0] == sounds[1]]).to eq([true, true, false])
  end
end

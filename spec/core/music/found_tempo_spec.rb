# frozen_string_literal: true

require "core_helper"
require_relative "../../../boot/files"

RSpec.describe Loomshuttle::Music::FoundTempo do
  def row(bpm, rate_hz, count, from: 0) = (0...count).map { |beat| (from + Rational(60 * rate_hz * beat) / Rational(bpm.to_s)).round }

  it "finds the tempo of clicks that were rounded to frames, and where they begin" do
    [[127, 44_100], [93.5, 48_000], [101.25, 96_000], [60, 48_000]].each do |bpm, rate_hz|
      found = described_class.of(row(bpm, rate_hz, 200, from: 4_321), rate_hz)
      expect([found.bpm, found.first_frame, found.clicks]).to eq([bpm, 4_321, 200])
      expect(found.stray_ms).to be < 0.02
    end
  end

  it "bridges clicks that were left out, and says how far played ones stray" do
    random = Random.new(3)
    played = row(120, 48_000, 120).each_with_index.reject { |_, beat| [7, 8, 31, 90].include?(beat) }.map { |frame, _| frame + random.rand(-200..200) }
    found = described_class.of(played, 48_000)
    expect(found.bpm).to be_within(0.05).of(120)
    expect(found.stray_ms).to be_between(3, 5)
    expect(described_class.of([*row(120, 48_000, 30), *row(90, 48_000, 30, from: 30 * 24_000)], 48_000).stray_ms).to be > 200
  end

  it "says nothing of too few" do
    expect([described_class.of([], 48_000), described_class.of([0, 24_000, 48_000], 48_000)]).to eq([nil, nil])
  end

  it "finds what our own click is made of, in every sound, by its samples" do
    Loomshuttle::Music::ClickSounds::NAMES.each do |sound|
      click = Loomshuttle::Music::Click.new(Loomshuttle::Music::TempoMap.of(bpm: 127), Loomshuttle::Music::Click::Style.new(sound: sound, count_in_bars: 1), rate_hz: 48_000,
        to_bar: 9)
      source = Struct.new(:click) {
        def frames = click.frames
        def rate_hz = click.rate_hz
        def read(from, count) = click.render(from, count).reshape(1, count)
      }.new(click)
      onsets = Loomshuttle::Files::ClickOnsets.of(source)
      expect([sound, onsets]).to eq([sound, click.onsets.map(&:first)])
      expect(described_class.of(onsets, 48_000).bpm).to eq(127)
    end
  end
end

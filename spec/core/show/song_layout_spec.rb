# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Show::SongLayout do
  def layout(**given) = Loomshuttle::Show::Song.new(id: "a", title: "A", beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 960_000, bpm: 120, **given).layout

  it "begins with the count-in, and the audio behind it" do
    expect(layout(count_in_bars: 2).to_h).to eq(audio_at: 192_000, click_at: 0, bar_1_at: 192_000, to_bar: 11, frames: 1_152_000)
  end

  it "begins with the audio where bar 1 lies far behind its beginning" do
    expect(layout(count_in_bars: 1, bar_1_frame: 240_000).to_h).to eq(audio_at: 0, click_at: 144_000, bar_1_at: 240_000, to_bar: 9, frames: 960_000)
    expect(layout(count_in_bars: 1, bar_1_frame: 24_000).to_h).to eq(audio_at: 72_000, click_at: 0, bar_1_at: 96_000, to_bar: 11, frames: 1_032_000)
  end

  it "has no bars without a tempo, and neither count-in nor an offset changes that" do
    expect(layout(bpm: nil, count_in_bars: 4, bar_1_frame: 50_000).to_h).to eq(audio_at: 0, click_at: nil, bar_1_at: nil, to_bar: nil, frames: 960_000)
  end

  it "clicks to the end of the bar in which the audio ends, in any tempo and time signature" do
    map = {"meters" => [{"bar" => 1, "meter" => "4/4"}, {"bar" => 3, "meter" => "3/4"}], "tempi" => [{"bar" => 1, "bpm" => 120}, {"bar" => 3, "bpm" => 60}]}
    # Two bars of 2 s, then bars of 3 s: 20 s end in the sixth of those.
    expect(layout(tempo: map, count_in_bars: 0).to_h).to include(to_bar: 9, bar_1_at: 0, frames: 960_000)
    expect(layout(tempo: map, count_in_bars: 0, length_frames: 48_000 * 7).to_bar).to eq(4)
    expect(layout(tempo: map, count_in_bars: 0, length_frames: 48_000 * 7 + 1).to_bar).to eq(5)
  end

  it "has as many bars as were made, whichever way their length was rounded" do
    made = [92, 93.7, 120, 127, 133.3].product([44_100, 48_000, 96_000], [1, 7, 24]).map do |bpm, rate_hz, bars|
      map = Loomshuttle::Music::TempoMap.of(bpm: bpm, meter: Loomshuttle::Music::Meter.parse("7/8"))
      [layout(tempo: map.to_data, sample_rate_hz: rate_hz, count_in_bars: 0, length_frames: map.frame(map.bar_start(bars + 1), rate_hz)).to_bar - 1, bars]
    end
    expect(made.reject { |found, bars| found == bars }).to eq([])
  end
end

RSpec.describe Loomshuttle::Show::Song do
  def song(sections, **given)
    described_class.new(id: "a", title: "A", beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 960_000, bpm: 120, sections: sections.map { |id, bar| {"id" => id, "name" => id.upcase, "bar" => bar} }, **given)
  end

  def placed(one) = one.placed_sections.map { |section, range| [section.name, range.begin, range.end] }

  it "has its sections where they lie when it plays, each to the next one's beginning, the last to the end" do
    expect(placed(song([["b", 5], ["a", 1]], count_in_bars: 1))).to eq([["A", 96_000, 480_000], ["B", 480_000, 1_056_000]])
    expect(placed(song([["a", 2], ["z", 400]], count_in_bars: 0))).to eq([["A", 96_000, 960_000]])
    expect(placed(song([["a", 1]], bpm: nil))).to eq([])
  end

  it "refuses two sections at one bar" do
    expect { placed(song([["a", 1], ["b", 1]])) }.to raise_error(Loomshuttle::BadInput, /sections: 1 is.*each bar/)
  end

  it "plays its sections in an arrangement's order; the first one brings what lies before it" do
    one = song([["a", 1], ["b", 5]], count_in_bars: 1, arrangements: [{"name" => "Twice", "parts" => %w[a b b], "crossfade_ms" => 5}, {"name" => "Back", "parts" => %w[b a]}])
    expect(one.arrangement("Twice").order(one).then { |order| [order.ranges, order.seam_frames] }).to eq([[0...480_000, 480_000...1_056_000, 480_000...1_056_000], 240])
    expect(one.arrangement("Back").order(one).ranges).to eq([480_000...1_056_000, 96_000...480_000])
    expect { one.arrangement("Once") }.to raise_error(Loomshuttle::BadInput, /"Once".*Twice, Back/)
    [[{"name" => "X", "parts" => ["z"]}, /"z".*a, b/], [{"name" => "X", "parts" => []}, /at least one/], [{"name" => "X", "parts" => ["a"], "crossfade_ms" => 51}, /0 to 50 ms/]].each do |wrong, words|
      expect { one.with(arrangements: [wrong]).arrangement("X") }.to raise_error(Loomshuttle::BadInput, words)
    end
    late = one.with(sections: [*one.sections, {"id" => "late", "name" => "L", "bar" => 400}], arrangements: [{"name" => "L", "parts" => ["late"]}])
    expect { late.arrangement("L").order(late) }.to raise_error(Loomshuttle::BadInput, /within the song's audio/)
  end

  it "comes back from its data as it was, with what is as usual left out" do
    plain = described_class.new(id: "a", title: "A", beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 96, bpm: 120)
    whole = plain.with(tempo: plain.map.to_data, bar_1_frame: 7, click: {"subdivide" => 2}, sections: [{"id" => "a", "name" => "A", "bar" => 1}])
    expect([plain, whole].map { |one| described_class.from_h(JSON.parse(JSON.generate(one.to_data))) }).to eq([plain, whole])
    expect(plain.to_data.keys & %i[tempo bar_1_frame click sections]).to eq([])
  end
end

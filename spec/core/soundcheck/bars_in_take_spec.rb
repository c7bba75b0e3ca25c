# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Soundcheck::BarsInTake do
  let(:songs) { show.library.values.select { |song| song.map && song.placed_sections.size > 1 } }
  let(:song) { show.song(songs.first.id) }
  let(:ranges) { song.placed_sections.to_h { |section, range| [section.name, range] } }

  def mark(frame, label) = {"id" => "m#{frame}", "frame" => frame, "label" => label}
  def bar_at(bar) = song.layout.bar_1_at + song.map.frame(song.map.bar_start(bar), song.sample_rate_hz)

  # As the show marks what it plays: the song where its program begins, each section as it begins to sound.
  def played(from, names)
    at = from + ranges.values.map(&:begin).min
    marks = names.map { |name| mark(at, name).tap { at += ranges[name].size } }
    [[mark(from, song.title), *marks], at]
  end

  it "finds every bar of a song that played from its beginning to its end" do
    marks, = played(10_000, ranges.keys)
    (1..song.last_bar).each { |bar| expect(described_class.frame(show, marks, bar, near: 0)).to eq(10_000 + bar_at(bar)) }
  end

  it "finds the bars where they sounded, whatever was jumped and gone round" do
    names = [ranges.keys.last, *ranges.keys.drop(1).reverse, ranges.keys.last]
    marks, ends = played(4_321, names)
    marks.drop(1).zip(names).uniq(&:last).each do |begins, name|
      bars = (1..song.last_bar).select { |bar| ranges[name].cover?(bar_at(bar)) }
      expect(bars.map { |bar| described_class.frame(show, marks.shuffle(random: Random.new(3)), bar, near: ends) }).to eq(bars.map { |bar|
        begins["frame"] + bar_at(bar) - ranges[name].begin
      })
    end
    skipped = (1..song.last_bar).find { |bar| ranges[ranges.keys.first].cover?(bar_at(bar)) }
    expect { described_class.frame(show, marks, skipped, near: 0) }.to raise_error(Loomshuttle::BadInput, /bar: #{skipped} .*#{song.title} that was played/)
  end

  it "means the song that plays there, and no bar behind the place where it was broken off" do
    other = show.song(songs.last.id)
    marks = [mark(100, song.title), mark(100 + ranges.values.first.begin, ranges.keys.first), mark(900_000, other.title), mark(950_000, "A word by hand")]
    bar_2 = other.layout.bar_1_at + other.map.frame(other.map.bar_start(2), other.sample_rate_hz)
    # Nothing says how far it played but its sections: the first is marked, the song of the last began before its end.
    first = other.placed_sections.first.last.begin
    later = [*marks, mark(900_000 + first, other.placed_sections.first.first.name)]
    expect(described_class.frame(show, later, 2, near: 901_000)).to eq(900_000 + bar_2)
    expect(described_class.frame(show, later, 1, near: 0)).to eq(100 + bar_at(1))
    expect { described_class.frame(show, later, song.last_bar, near: 0) }.to raise_error(Loomshuttle::BadInput)
    expect { described_class.frame(show, [mark(5, "A word by hand")], 1, near: 0) }.to raise_error(Loomshuttle::BadInput, /marked with none/)
  end
end

# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Show::Played do
  # Four bars of two seconds each at 120, a bar counted in.
  let(:song) do
    sections = [["in", 1], ["verse", 2], ["out", 4]].map { |id, bar| {"id" => id, "name" => id.capitalize, "bar" => bar} }
    Loomshuttle::Show::Song.new(id: "s", title: "S", bpm: 120, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 4 * 96_000, sections: sections,
      arrangements: [{"name" => "Short", "parts" => %w[in out verse verse]}, {"name" => "Late", "parts" => %w[out in]}])
  end

  def bars(played) = played.sections.map { |section, range| [section.name, range.begin / 96_000.0, range.end / 96_000.0] }
  def as(name) = described_class.new(song: song, arrangement: song.arrangement(name))

  it "lies as it is, or as its arrangement has it; what lies before the first section is its own" do
    expect(bars(described_class.new(song: song))).to eq([["In", 1.0, 2.0], ["Verse", 2.0, 4.0], ["Out", 4.0, 5.0]])
    expect(bars(as("Short"))).to eq([["In", 1.0, 2.0], ["Out", 2.0, 3.0], ["Verse", 3.0, 5.0], ["Verse", 5.0, 7.0]])
    expect([as("Short").frames, bars(as("Late"))]).to eq([7 * 96_000, [["Out", 0.0, 1.0], ["In", 1.0, 2.0]]])
    expect(described_class.new(song: song).markers.first).to eq({frame: 96_000, label: "bar 1"})
  end

  # Each section, wherever it is played, brings the very frames that are its own.
  it "agrees with the order that plays" do
    placed = song.placed_sections.to_h { |section, range| [section.name, range] }
    %w[Short Late].each do |name|
      played = as(name)
      played.sections.each { |section, range| expect((range.begin...range.end).step(9_600).map { |frame| played.order.plain(frame) }).to eq(placed[section.name].step(9_600).to_a) }
      expect(played.sections.last.last.end).to eq(played.frames)
    end
  end

  it "is what the set list says, and says what the song has no more" do
    library = {"s" => song}
    listed = ->(name) { show.with(library: library, set_list: {"s" => Loomshuttle::Show::Listed.new(song: "s", arrangement: name)}) }
    expect([described_class.of(listed["Short"], song).frames, described_class.of(listed[nil], song).frames]).to eq([7 * 96_000, 5 * 96_000])
    gone = described_class.of(listed["Long"], song)
    expect([gone.lost, gone.frames]).to eq(["Long", 5 * 96_000])
    asked = listed["Long"]
    found = Loomshuttle::Checks::All.findings(asked).find { |one| one.rule == "arrangement" }
    expect([found.severity, found.title]).to eq(["stop", "S has no Long"])
    expect(Loomshuttle::Checks::All.findings(found.mend.edit.apply(asked)).map(&:rule)).not_to include("arrangement")
    expect(Loomshuttle::Checks::All.findings(listed["Short"]).map(&:rule)).not_to include("arrangement")
  end
end

RSpec.describe Loomshuttle::Checks::StemFit do
  def found(show, **facts) = described_class.findings(show, Loomshuttle::Checks::Facts.new(**facts)).map { |one| [one.severity, one.title, one.what] }

  it "names what is not on disk, what was cut, and what ends before its song" do
    expect([found(show), found(show, stems: {})]).to eq([[], []])
    expect(found(show, stems: {"low-tide-waltz" => {"tide drum.wav" => "missing", "marsh organ.wav" => "cut"}})).to eq([["stop", "Low tide waltz has lost Marsh organ and Tide drum",
      "Tide drum of Low tide waltz is not on this machine's disk. Marsh organ of Low tide waltz is shorter on disk than when it was taken in."]])
    waltz = show.library["low-tide-waltz"]
    shorter = ->(frames) { show.with(library: {"low-tide-waltz" => waltz.with(stems: [waltz.stems[0], waltz.stems[1].with(frames: waltz.length_frames - frames)])}) }
    expect(found(shorter[24_000])).to eq([])
    expect(found(shorter[60_000])).to eq([["note", "Tide drum ends before Low tide waltz does", "Tide drum ends 1.3 s before the longest stem of Low tide waltz."]])
  end
end

RSpec.describe Loomshuttle::Edits::SetListed do
  it "keeps what it is given, gives back what is null, and says which field, which value, what is allowed" do
    after = edit("listed", song: "low-tide-waltz", after: "wait", wait_s: 8, key: "D minor").apply(show)
    expect(after.set_list["low-tide-waltz"].to_data).to eq({"song" => "low-tide-waltz", "after" => "wait", "wait_s" => 8, "key" => "D minor"})
    expect(edit("listed", song: "low-tide-waltz", after: nil, wait_s: nil, key: nil).apply(after)).to eq(show)
    # Another order lets it be; a song that is put there again begins anew.
    expect(edit("set_list", songs: ["low-tide-waltz"]).apply(after)).to eq(after)
    {{after: "never"} => /go, on, wait, stop/, {wait_s: 3_601} => /0 to 3600 s/, {trim_db: 12.5} => /-40.0 to 12.0 dB/, {talk_s: -1} => /0 to 14400 s/, {key: "x" * 201} => /200 characters/, {note: "a\nb"} => /a line/,
     {arrangement: "Long"} => /none: the song has none/, {song: "nobody"} => /a song of the set list/}.each do |given, allowed|
      refusal = edit("listed", song: "low-tide-waltz", **given).apply(show)
      expect([refusal.class, refusal.field, refusal.allowed]).to match([Loomshuttle::Refusal, given.keys.last.to_s, allowed])
    end
  end

  it "stands in the show file as it was, beside songs that are as usual" do
    after = edit("listed", song: "low-tide-waltz", trim_db: -1.5).apply(show)
    codec = Loomshuttle::Shelf.show_file
    expect(codec.parse(Loomshuttle::Exchange::ShowFile.write(after))).to eq(after)
    expect(JSON.parse(Loomshuttle::Exchange::ShowFile.write(show))["set_list"]).to eq(["low-tide-waltz"])
  end
end

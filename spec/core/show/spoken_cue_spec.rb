# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Show::SpokenCue do
  # Eight bars of two seconds each at 120, two bars counted in: bar 1 lies at four seconds.
  def song(cues = {"sections" => true, "count_in" => true, "said" => [{"bar" => 5, "text" => "Watch"}]}, count_in_bars: 2, **more)
    sections = [["in", 1], ["verse", 3], ["out", 7]].map { |id, bar| {"id" => id, "name" => id.capitalize, "bar" => bar} }
    made = Loomshuttle::Show::Song.new(id: "s", title: "S", bpm: 120, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 8 * 96_000, count_in_bars: count_in_bars, sections: sections,
      arrangements: [{"name" => "Short", "parts" => %w[in out verse verse]}, {"name" => "Late", "parts" => %w[verse out]}], cues: cues, **more)
    made.with(spoken: described_class.phrases(made).keys)
  end

  def heard(song, name = nil)
    played = Loomshuttle::Show::Played.new(song: song, arrangement: name && song.arrangement(name))
    described_class.of(played).map { |cue| [cue.text, cue.at_frame / 48_000.0] }
  end

  it "is each section's name a bar before it, the last bar counted on its beats, and what is said at a bar" do
    expect(heard(song)).to eq([["In", 0.0], ["1", 2.0], ["2", 2.5], ["3", 3.0], ["4", 3.5], ["Verse", 6.0], ["Watch", 12.0], ["Out", 14.0]])
    expect(heard(song(count_in_bars: 1)).first(5)).to eq([["1", 0.0], ["2", 0.5], ["3", 1.0], ["4", 1.5], ["Verse", 4.0]])
    expect(heard(song({"sections" => true})).first).to eq(["In", 2.0])
  end

  it "says in an arrangement what comes next there, and what lies at a bar as often as that is played" do
    expect(heard(song, "Short").drop(5)).to eq([["Out", 6.0], ["Verse", 10.0], ["Watch", 16.0], ["Verse", 18.0], ["Watch", 24.0]])
    expect(heard(song, "Late")).to eq([["Watch", 4.0], ["Out", 6.0]])
  end

  it "is nothing that does not lie ready, and nothing without a tempo" do
    expect(heard(song.with(spoken: [])).size).to eq(0)
    expect(song.with(bpm: nil).role_names).not_to include("cue")
    expect(song.role_names).to eq(%w[cue click])
    expect(described_class.phrases(song).values).to eq(["In", "Verse", "Out", "1", "2", "3", "4", "Watch"])
  end

  it "wants a lane like any role, and is found where it is not spoken yet" do
    waltz = show.library["low-tide-waltz"].with(cues: {"sections" => true})
    said = show.with(library: {"low-tide-waltz" => waltz}, roles: show.roles.merge("cue" => Loomshuttle::Show::Role.new(name: "cue", hidden: true)))
    found = Loomshuttle::Checks::All.findings(said)
    expect(found.find { |one| one.rule == "unassigned-role" }.title).to eq("Cue has no output")
    expect(found.find { |one| one.rule == "unspoken" }.title).to match(/\A\d+ cues of Low tide waltz are not spoken yet\z/)
    laid = edit("connect", slot: "rec/lane-out/32", from: "songs/role/cue").apply(said)
    ready = laid.with(library: {"low-tide-waltz" => waltz.with(spoken: described_class.phrases(waltz).keys)})
    wish = Loomshuttle::Show::Wish.of(ready, ready.songs.first) { |file| file }
    spoken = wish[:voices].find { |voice| voice[:key] == "cue/spoken" }
    expect(spoken).to include(lanes: [32], played: true)
    expect(spoken[:pieces].map { |piece| piece[:path] }).to all(match(%r{\Acues/[0-9a-f]{16}\.wav\z}))
  end
end

RSpec.describe Loomshuttle::Music::Click do
  # In chosen sections alone, with a bar before: onsets are those of the whole click in these bars.
  it "sounds in chosen sections, with bars before them, and in its count-in" do
    sections = [["in", 1], ["verse", 3], ["out", 7]].map { |id, bar| {"id" => id, "name" => id, "bar" => bar} }
    song = Loomshuttle::Show::Song.new(id: "s", title: "S", bpm: 120, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 8 * 96_000, sections: sections,
      click: {"sections" => %w[verse], "lead_bars" => 1})
    expect(song.sounding_bars).to eq([[2, 7]])
    bars = ->(style) { described_class.new(song.map, style, rate_hz: 48_000, to_bar: 9).onsets.map { |frame, _| frame / 96_000 }.uniq }
    expect(bars[song.click_style]).to eq([0, 2, 3, 4, 5, 6])
    expect(bars[song.click_style.with(only: nil)]).to eq([*0..8])
    expect(song.with(click: {"sections" => %w[out]}).sounding_bars).to eq([[7, nil]])
    partly = described_class.new(song.map, song.click_style, rate_hz: 48_000, to_bar: 9)
    whole = described_class.new(song.map, song.click_style.with(only: nil), rate_hz: 48_000, to_bar: 9)
    expect(partly.render(96_000, 96_000).abs.max).to eq(0.0)
    expect(partly.render(2 * 96_000, 480_000) == whole.render(2 * 96_000, 480_000)).to be(true)
  end
end

RSpec.describe Loomshuttle::Render::Renderer do
  it "lays what is announced in what is played, whatever its order, and not while a loop goes round" do
    source = Struct.new(:values) do
      def frames = values.size
      def channels = 1
      def read(from, count) = Numo::SFloat[values[from, count]]
    end
    voices = [Loomshuttle::Render::Voice.new(key: "stem", source: source.new((1..8).map { |n| n / 10.0 }), lanes: [1]),
      Loomshuttle::Render::Voice.new(key: "cue", source: source.new([0.0, 0.0, 0.0, 1.0]), lanes: [2], played: true)]
    program = Loomshuttle::Render::Program.new(label: "x", rate_hz: 48_000, voices: voices, length_frames: 8).with_order(Loomshuttle::Render::Order.new(ranges: [4...8, 0...2]))
    heard = ->(one, from, count) { described_class.new(lanes: 2).block(one, from, count).to_a.map { |row| row.map { |value| value.round(3) } } }
    expect(heard[program, 0, 6]).to eq([[0.5, 0.6, 0.7, 0.8, 0.1, 0.2], [0.0, 0.0, 0.0, 1.0, 0.0, 0.0]])
    expect(heard[program.with_loop(0...4), 0, 6].last).to eq([0.0] * 6)
  end
end

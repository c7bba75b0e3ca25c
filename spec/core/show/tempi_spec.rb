# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Show::Song do
  let(:song) do
    stems = [Loomshuttle::Show::Stem.new(name: "Organ", role: "organ", file: "organ.wav", sample_rate_hz: 48_000, frames: 960_000)]
    described_class.new(id: "s", title: "S", bpm: 120, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 960_000, stems: stems, bar_1_frame: 4800,
      tempo: {"meters" => [{"bar" => 1, "meter" => "4/4"}, {"bar" => 3, "meter" => "3/4"}],
              "tempi" => [{"bar" => 1, "bpm" => 120}, {"bar" => 4, "bpm" => 133.3, "ramp" => true}, {"bar" => 6, "bpm" => 150}]},
      sections: [{"id" => "in", "name" => "In", "bar" => 1}, {"id" => "out", "name" => "Out", "bar" => 5}], tempi: {"80" => {"frames" => {"organ.wav" => 1_200_000}}})
  end

  # Every bar lies where its own place is, divided by the tempo's share.
  it "has all its bars, sections and its audio at a tempo that lies ready" do
    slow = song.at(80)
    expect([slow.percent, slow.bpm, slow.bar_1_frame, slow.length_frames]).to eq([80, 96.0, 6000, 1_200_000])
    expect(slow.stems.map { |stem| [stem.file, stem.frames] }).to eq([["at-80/organ.wav", 1_200_000]])
    (1..8).each { |bar| expect(slow.map.seconds(slow.map.bar_start(bar))).to eq(song.map.seconds(song.map.bar_start(bar)) * Rational(100, 80)) }
    placed = song.placed_sections.map { |section, range| [section.name, (range.begin * 1.25).round] }
    expect(slow.placed_sections.map { |section, range| [section.name, range.begin] }).to eq(placed)
    expect(song.at(80)).to equal(slow)
    expect([song.at(nil), song.at(90), song.with(bpm: nil, tempo: nil).at(80).bpm]).to eq([song, song, nil])
    expect(song.with(tempi: {"120" => {"frames" => {"organ.wav" => 800_000}}}, bpm: 990, tempo: nil).at(120).percent).to eq(100)
  end

  it "is played so where the set list says so, and found where it is not ready" do
    planned = show.with(library: {"s" => song}, set_list: {"s" => Loomshuttle::Show::Listed.new(song: "s")})
    slow = edit("listed", song: "s", percent: 80).apply(planned)
    wish = Loomshuttle::Show::Wish.of(slow, slow.songs.first) { |file| file }
    expect([wish[:voices].first[:pieces].first[:path], wish[:bars][:tempo]["tempi"].first["bpm"]]).to eq(["at-80/organ.wav", 96])
    expect(edit("listed", song: "s", percent: 90).apply(planned).allowed).to eq("80")
    lost = slow.with(library: {"s" => song.with(tempi: {})})
    found = Loomshuttle::Checks::All.findings(lost).find { |one| one.rule == "tempo" }
    expect([found.severity, found.title, found.mend.edit.apply(lost).set_list["s"].percent]).to eq(["stop", "S is not there at 80 %", nil])
    expect { Loomshuttle::Show::Wish.of(lost, lost.songs.first) { |file| file } }.to raise_error(Loomshuttle::BadInput, /percent: 80/)
  end

  describe "while it plays" do
    let(:planned) { show.with(library: {"s" => song}, set_list: {"s" => Loomshuttle::Show::Listed.new(song: "s")}) }

    def retimed(of, **given) = Loomshuttle::Show::Retimed.of(of, "s", **given).to_a
    def begins(of, percent) = of.at_tempo("s", percent).then { |at| Loomshuttle::Show::Played.of(at, at.song("s")).sections.map { |_, range| range.begin } }

    it "goes over where the next section begins, there and back, whatever the set list says by then" do
      own, slow = begins(planned, 100), begins(planned, 80)
      expect([retimed(planned, from: 100, to: 80, position: own[1] - 1), retimed(planned, from: 80, to: 100, position: slow[0])]).to eq([[own[1], slow[1]], [slow[1], own[1]]])
      expect(retimed(planned.at_tempo("s", 80), from: 100, to: 80, position: 0)).to eq([own[0], slow[0]])
    end

    it "goes over from part to part of an arrangement" do
      arranged = planned.with(library: {"s" => song.with(arrangements: [{"name" => "Round", "parts" => %w[out in out]}])}, set_list: {"s" => Loomshuttle::Show::Listed.new(song: "s", arrangement: "Round")})
      own, slow = begins(arranged, 100), begins(arranged, 80)
      expect(own.each_cons(2).map { |one, next_one| retimed(arranged, from: 100, to: 80, position: (one + next_one) / 2) }).to eq(own.zip(slow).drop(1))
    end

    it "refuses what does not lie ready, and behind the last beginning" do
      expect { retimed(planned, from: 100, to: 90, position: 0) }.to raise_error(Loomshuttle::BadInput, /80, 100/)
      expect { retimed(planned, from: 100, to: 80, position: begins(planned, 100).last) }.to raise_error(Loomshuttle::BadInput, /another section/)
    end
  end
end

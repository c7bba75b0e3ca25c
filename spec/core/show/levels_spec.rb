# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require "tmpdir"
require_relative "../../../boot/files"

RSpec.describe Loomshuttle::Audio::SidesTally do
  # Any two sides, with exact powers: 3 dB is 10 * log10(2).
  def sides(left, right)
    tally = described_class.new
    [left, right].transpose.each_slice(7) { |frames| tally.add(Numo::Int32[*frames.map { |frame| frame.map { |sample| (sample * (2**30)).round } }]) }
    [tally.sides_db, tally.sum_peak_dbfs]
  end

  let(:noise) { Random.new(3).then { |random| Array.new(5000) { random.rand(-1.0..1.0) } } }
  let(:other) { Random.new(4).then { |random| Array.new(5000) { random.rand(-1.0..1.0) } } }

  it "says what a sum loses: nothing of what is alike, all of what is turned round" do
    expect(sides(noise, noise).first).to eq(3.01)
    expect(sides(noise, other).first).to be_within(0.2).of(0)
    expect(sides(noise, noise.map(&:-@)).first).to eq(-120.0)
    expect(sides(noise, Array.new(5000, 0.0)).first).to eq(0.0)
    expect([sides([0.0] * 9, [0.0] * 9), sides([0.5, -0.5], [0.5, -0.5]).last]).to eq([[nil, nil], -6.02])
  end

  # sox's own numbers for the same file: the mean square of the sum and of both sides.
  it "agrees with sox" do
    Dir.mktmpdir do |folder|
      path = File.join(folder, "two.wav")
      File.binwrite(path, WavFiles.pcm16(noise.zip(other.each_index.map { |at| other[at] * 0.3 - noise[at] * 0.8 }).flatten.map { |sample| (sample * 12_000).round }, channels: 2))
      rms = ->(remix) { IO.popen(["sox", path, "-n", "remix", *remix, "stat"], err: %i[child out], &:read)[/RMS\s+amplitude:\s+([\d.]+)/, 1].to_f }
      expected = 20 * Math.log10(rms[["1v1,2v1"]]) - 10 * Math.log10(rms[["1"]]**2 + rms[["2"]]**2)
      expect(Loomshuttle::Files::Tally.of(path).sides[:sides_db]).to be_within(0.02).of(expected)
    end
  end
end

RSpec.describe Loomshuttle::Checks::Fold do
  def two_sided(**measured)
    waltz = show.library["low-tide-waltz"]
    organ = waltz.stems.first.with(channels: 2, **measured)
    show.with(library: {"low-tide-waltz" => waltz.with(stems: [organ, *waltz.stems.drop(1)])})
  end

  it "tells in dB what cancels on one lane, and nothing where it has two" do
    planned = two_sided(sides_db: -9.42, sum_peak_dbfs: -3.0)
    expect(described_class.findings(planned).map(&:title)).to eq(["Marsh organ of Low tide waltz loses 9.4 dB on one lane"])
    wide = edit("connect", slot: "rec/lane-out/28", from: "songs/role/organ").apply(planned)
    expect(described_class.findings(wide)).to eq([])
    expect(described_class.findings(two_sided)).to eq([])
  end

  it "tells what goes over by the law that was chosen; the mend takes as much off" do
    planned = two_sided(sides_db: 2.5, sum_peak_dbfs: 5.5)
    expect(described_class.findings(planned)).to eq([])
    louder = edit("role_terms", role: "organ", fold_db: -3, gain_db: 1.5).apply(planned)
    found = described_class.findings(louder).first
    expect(found.title).to eq("Marsh organ of Low tide waltz goes over by 4.0 dB on one lane")
    after = found.mend.edit.apply(louder)
    expect([described_class.findings(after), after.role_terms["organ"].gain_db]).to eq([[], -2.5])
  end
end

RSpec.describe Loomshuttle::Show::SongLevels do
  def levelled(loudness, peak, target)
    measured = show.with(library: show.library.transform_values { |song| song.with(loudness_lufs: loudness, true_peak_dbtp: peak) })
    described_class.of(measured, target).first.then { |one| [one.trim_db, one.short_db] }
  end

  it "brings a song to the target, but never over -1 dBTP, and says how much is missing" do
    expect(levelled(-23.0, -12.0, -18.0)).to eq([5.0, 0.0])
    expect(levelled(-14.2, 0.3, -18.0)).to eq([-3.8, 0.0])
    expect(levelled(-23.0, -3.17, -18.0)).to eq([2.1, 2.9])
    expect(levelled(nil, nil, -18.0)).to eq([nil, 0.0])
    random = Random.new(9)
    200.times do
      loudness, peak, target = random.rand(-45.0..-5.0), random.rand(-30.0..3.0), random.rand(-40.0..-8.0)
      trim_db, = levelled(loudness, peak, target)
      expect(peak + trim_db).to be <= -1.0 + 1e-9
      expect(loudness + trim_db).to be <= target + 0.051
    end
  end

  it "refuses what is no loudness, and a set that nobody measured" do
    expect(edit("level_songs", target_lufs: 3).apply(show).allowed).to include("-40.0 to -8.0 LUFS")
    expect(edit("level_songs", target_lufs: -18).apply(show).why).to include("no song")
  end
end

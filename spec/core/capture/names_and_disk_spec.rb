# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Capture::FileName do
  {
    [9, "Accordion"] => "09 Accordion.wav", [1, "Kick/Snare"] => "01 Kick-Snare.wav", [2, "..hidden.."] => "02 hidden.wav", [3, "  "] => "03 track.wav",
    [4, "a\\b:c*d?e"] => "04 a-b-c-d-e.wav", [5, "Geige 🎻 é"] => "05 Geige 🎻 é.wav", [12, "../../etc"] => "12 -..-etc.wav"
  }.each do |(number, name), file|
    it("makes #{file} of #{name.inspect}") { expect(described_class.of(number, name)).to eq(file) }
  end

  it "cuts 300 characters to what a file system takes, without breaking one" do
    file = described_class.of(1, "é" * 300)
    expect(file.bytesize).to be <= 255
    expect(file).to be_valid_encoding
  end

  it "gives a file made elsewhere a safe name of its own, with its ending" do
    names = [["a/b.WAV", []], ["kick.wav", ["kick.wav", "kick (2).wav"]], ["no ending", []], ["\xFFbad.wav", []], ["...wav", []]]
    many = described_class.all_imported(["Kick.wav", "kick.wav", "Kick.wav", "Kick (2).wav", *["x/y.wav"] * 1500])
    expect(many.first(4)).to eq(["Kick.wav", "kick.wav", "Kick (2).wav", "Kick (2) (2).wav"])
    expect(many.uniq.size).to eq(1504)
    expect(names.map { |name, taken| described_class.imported(name, taken) }).to eq(["a-b.WAV", "kick (3).wav", "no ending.wav", "-bad.wav", "file.wav"])
  end

  it "keeps two alike names apart by their numbers" do
    expect(described_class.of(1, "Vox")).not_to eq(described_class.of(2, "Vox"))
  end
end

RSpec.describe Loomshuttle::Capture::DiskBudget do
  # Arithmetic: 32 tracks at 48 kHz and 24 bits are 4.608 MB/s, 16.59 GB an hour.
  it "knows the rate of 32 tracks" do
    rate = described_class.rate_bytes_per_s(32, 48_000)
    expect([rate, (rate * 3600 / 1e9).round(2)]).to eq([4_608_000, 16.59])
  end

  it "keeps a margin, never goes below nothing, and has no answer for no tracks" do
    expect(described_class.seconds_left(described_class::MARGIN_BYTES + 4_608_000 * 60, 32, 48_000)).to eq(60)
    expect(described_class.seconds_left(1000, 1, 48_000)).to eq(0)
    expect(described_class.seconds_left(10**12, 0, 48_000)).to be_nil
  end
end

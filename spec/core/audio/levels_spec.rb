# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Audio::LevelTally do
  def tone(peak_dbfs, frames: 48_000, hz: 997)
    ratio = Loomshuttle::Audio::Scale.ratio(peak_dbfs)
    wave = Numo::NMath.sin(Numo::DFloat.new(frames).seq * 2 * Math::PI * hz / 48_000) * ratio * (2**31 - 256)
    Numo::Int32.cast(wave.rint).reshape(frames, 1)
  end

  def levels(samples, bits: 24, block: 1000)
    tally = described_class.new(channels: samples.shape[1], bits: bits)
    (0...samples.shape[0]).step(block) { |from| tally.add(samples[from...[from + block, samples.shape[0]].min, true]) }
    tally.levels
  end

  # AES17: a full-scale sine reads 0 dBFS rms; its arithmetic rms is -3.01 dB.
  it "reads a full-scale sine as 0 dBFS rms" do
    expect(levels(tone(0)).first).to include(peak_dbfs: be_within(0.01).of(0), rms_dbfs: be_within(0.01).of(0), clipped_runs: 0)
  end

  # EBU R 68 and SMPTE RP 155 put nominal levels at -18 and -20 dBFS.
  [-18, -20].each do |level|
    it("reads a sine at #{level} dBFS as such") do
      expect(levels(tone(level)).first).to include(peak_dbfs: be_within(0.01).of(level), rms_dbfs: be_within(0.01).of(level))
    end
  end

  # Two equal signals: in phase +6.02 dB, unrelated +3.01 dB, opposite nothing left.
  it "adds as physics does" do
    one, other = tone(-20), tone(-20, hz: 1543)
    sums = [one + one, one + other, one - one].map { |sum| levels(sum).first[:rms_dbfs] }
    expect(sums).to match([be_within(0.02).of(-13.98), be_within(0.02).of(-16.99), Loomshuttle::Audio::Scale::FLOOR_DBFS])
  end

  it "agrees with sox on peak and rms of a sine with noise" do
    Dir.mktmpdir do |folder|
      path = File.join(folder, "mix.wav")
      system("sox",
        "-n",
        "-r",
        "48000",
        "-b",
        "24",
        path,
        "synth",
        "1",
        "sine",
        "440",
        "synth",
        "1",
        "pinknoise",
        "mix",
        "gain",
        "-8",
        exception: true)
      ours = File.open(path, "rb") { |io| Loomshuttle::Audio::Inspection.of(io, path)[:levels].first }
      stat = IO.popen(["sox", path, "-n", "stats"], err: %i[child out], &:read)
      peak, rms = ["Pk lev dB", "RMS lev dB"].map { |name| stat[/#{name}\s+(-?[\d.]+)/, 1].to_f }
      expect([ours[:peak_dbfs], ours[:rms_dbfs]]).to match([be_within(0.01).of(peak), be_within(0.02).of(rms + 3.01)])
    end
  end

  it "counts runs at full scale, also over the edge of a block, but not single peaks" do
    top = 2**31 - 256
    samples = Numo::Int32.zeros(40, 1)
    samples[3, 0] = top
    samples[8...13, 0] = top
    samples[18...22, 0] = -2**31
    samples[30...32, 0] = top
    expect(levels(samples, block: 10).first[:clipped_runs]).to eq(2)
  end

  it "counts 16-bit full scale in a 16-bit file" do
    samples = Numo::Int32.zeros(10, 1)
    samples[2...6, 0] = 32_767 << 16
    expect([levels(samples, bits: 16), levels(samples, bits: 24)].map { |found| found.first[:clipped_runs] }).to eq([1, 0])
  end

  it "says silence for nothing" do
    expect(described_class.new(channels: 1, bits: 24).levels).to eq([{peak_dbfs: -150.0, rms_dbfs: -150.0, clipped_runs: 0}])
  end
end

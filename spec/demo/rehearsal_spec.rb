# frozen_string_literal: true

require "core_helper"
require "timeout"
require_relative "../../demo/rehearsal"

RSpec.describe Loomshuttle::Demo::Rehearsal do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  def samples(path) = File.open(path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| reader.read_s32(0, reader.frames) } }

  it "is a take with marks, a change of the patch and stretches, whose files hold what the band played" do
    described_class.new(show, {uid: "0a1b2c3d-0000-4000-8000-000000000001", folder: "lanterns-0a1b2c3d"}).record(@folder)
    folder = Dir[File.join(@folder, "*/take-001")].first
    log = Loomshuttle::Engine::Journal.read(folder)
    expect([log.state, log.lost_frames, log.patches.size, log.parts("rec/track/7"), log.parts("rec/track/12")]).to eq(["closed", 0, 1, 2, 1])
    expect(log.marks.map { |mark| mark[:label] }).to eq(["Low tide waltz", "Second verse", ""])
    expect(log.frames).to be_within(2048).of(30 * 48_000)
    wrong = log.stretches.flat_map do |stretch|
      File.open(File.join(folder, stretch.file), "rb") { |io| Loomshuttle::Capture::Verification.of(io, frames: stretch.frames, sample_rate_hz: 48_000, crc32: stretch.crc32) }
    end
    expect(wrong).to eq([])
    tuba, narrator = samples(File.join(folder, "04 Tuba.wav"))[true, 0], log.stretches.find { |stretch| stretch.track == "rec/track/12" }
    band = Loomshuttle::Standin::Band.new(sample_rate_hz: 48_000)
    expect(tuba[0...8192].to_a).to eq((Numo::DFloat.cast(band.block(0, 8192)[3, true]) * 2**31).to_a.map(&:to_i))
    expect(samples(File.join(folder, narrator.file)).shape[0]).to eq(narrator.frames)
    expect(narrator.from_frame).to be_between(7.9 * 48_000, 8.5 * 48_000)
  end
end

# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require "support/wav_files"
require_relative "../../boot/files"
require_relative "../../boot/runtime"

# What happens to a file while it plays.
RSpec.describe Loomshuttle::Files::WavSource do
  around { |example| Dir.mktmpdir { |folder| (@path = File.join(folder, "01 Drone.wav")) && example.run } }

  before { File.binwrite(@path, WavFiles.pcm16((0...60_000).map { |n| n % 30_000 })) }

  def program(source)
    voices = [["drone", source, 1], ["other", Loomshuttle::Render::Impulse.new(frames: 60_000), 2]].map { |key, from, lane| Loomshuttle::Render::Voice.new(key: key, source: from, lanes: [lane]) }
    Loomshuttle::Render::Program.new(label: "x", rate_hz: 48_000, voices: voices, length_frames: 60_000)
  end

  it "says that a file was shortened, and where, and the others play on" do
    renderer = Loomshuttle::Render::Renderer.new(lanes: 2)
    one = program(described_class.new(@path))
    expect(renderer.block(one, 0, 4)[0, true].to_a).to eq([0, 1, 2, 3].map { |n| n / 32_768.0 })
    File.truncate(@path, 44 + 2 * 40_000)
    expect(renderer.block(one, 20_000, 1024)[0, 0]).to be > 0
    renderer.block(one, 39_900, 1024)
    expect(renderer.failed["drone"]).to eq("the file has become shorter: 9152 frames are missing at 40000")
    expect(renderer.failed).not_to include("other")
  end

  # A disk that stands still for two seconds is not heard where what comes is in memory by then: util-linux' fincore says
  # which pages of a file are, on a disk that is one.
  it "has the system fetch the next seconds long before they are read" do
    Dir.mktmpdir("loomshuttle", "/var/tmp") do |folder|
      path = File.join(folder, "long.wav")
      File.binwrite(path, WavFiles.pcm16([1] * 48_000 * 20))
      File.open(path) { |file| file.fdatasync.then { file.advise(:dontneed) } }
      cached = -> { `fincore --bytes --noheadings --output RES #{path}`.to_i }
      skip "this file system keeps files in memory" if cached.call > 200_000
      source = described_class.new(path)
      source.read(0, 1024)
      deadline = Process.clock_gettime(Process::CLOCK_MONOTONIC) + 60
      sleep 0.05 until cached.call > 6 * 96_000 || Process.clock_gettime(Process::CLOCK_MONOTONIC) > deadline
      expect(cached.call).to be > 6 * 96_000
      expect(cached.call).to be < 15 * 96_000
    end
  end

  it "plays on what it has open when somebody deletes or replaces the file" do
    source = described_class.new(@path)
    File.delete(@path)
    File.binwrite(@path, WavFiles.pcm16([9] * 60_000))
    expect(source.read(50_000, 3)[0, true].to_a).to eq([20_000, 20_001, 20_002].map { |n| n / 32_768.0 })
  end

  # Files around the pieces that are read at once, of whatever channels there are, against what was written.
  [1, 2, 3, 5].product([1, 2, 16_383, 16_384, 16_385, 16_386]).each do |channels, frames|
    it "reads #{frames} frames of #{channels} channels, all of them or one, whatever is asked for" do
      Dir.mktmpdir do |folder|
        path = File.join(folder, "some.wav")
        sound = (Numo::SFloat.new(channels, frames).seq % 1000) / 1024
        Loomshuttle::Files::WavWriter.write(path, rate_hz: 48_000, names: ["x"] * channels, frames: frames) { |from, count| sound[true, from...(from + count)] }
        source, last = described_class.new(path), described_class.new(path, channels: [channels])
        [[0, frames], [frames - 1, 1], [frames / 2, frames - frames / 2]].each do |from, count|
          expect(source.read(from, count).to_a).to eq(sound[true, from...(from + count)].to_a)
          expect(last.read(from, count).to_a).to eq([sound[-1, from...(from + count)].to_a])
        end
        [source, last].each(&:close)
      end
    end
  end
end

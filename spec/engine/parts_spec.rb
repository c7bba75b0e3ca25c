# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require_relative "../../boot/engine"

RSpec.describe Loomshuttle::Engine::Runner do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:blocks) { Array.new(40) { |i| Numo::Int32.new(1024, 4).rand(-2**22, 2**22) << 8 } }
  let(:device) { Loomshuttle::Engine::Device::MemoryDevice.new(blocks) }
  let(:runner) { described_class.new(device, takes_folder: @folder) }

  it "meters what comes by, with its clips" do
    blocks[0][10, 2] = 2**31 - 256
    runner.run_device
    meters = runner.instance_variable_get(:@meters).take
    expect(meters[:clips]).to eq([0, 0, 1, 0])
    expect(meters[:peak_dbfs][2]).to eq(0.0)
    expect(meters[:rms_dbfs][0]).to be_within(0.3).of(20 * Math.log10(0.5 / Math.sqrt(3)) + 3.01)
  end

  it "gives silence to a device when nothing plays" do
    runner.run_device
    expect(device.played.uniq).to eq(["\0" * (1024 * 4 * 4)])
  end

  it "refuses to record while the device is away" do
    expect { runner.record("a", {"files" => []}) }.to raise_error(Loomshuttle::BadInput, /device.*desk does not answer/)
  end
end

RSpec.describe Loomshuttle::Engine::DiskQueue do
  let(:format) { Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: 2, lanes_out: 2, block_frames: 4) }

  it "turns wire blocks into planar 24-bit bytes without a float" do
    queue = described_class.new(format, seconds: 1)
    queue.push(Numo::Int32[[1, -1], [2, -2], [3, -3], [4, -4]].then { |wire| wire << 8 }.to_binary, 0)
    queue.finish
    queue.each do |_, block|
      expect([block[0, true, 0].to_a, block[1, true, true].to_a]).to eq([[1, 2, 3, 4], [[255, 255, 255], [254, 255, 255], [253, 255, 255], [252, 255, 255]]])
    end
  end

  it "holds at least two seconds, and counts what does not fit" do
    queue = described_class.new(format, seconds: 2)
    results = Array.new(24_010) { |i| queue.push("\0" * 32, i * 4) }
    expect([results.count(true), queue.lost_blocks]).to eq([24_000, 10])
  end
end

RSpec.describe Loomshuttle::Engine::Recorder do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:format) { Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: 1, lanes_out: 1, block_frames: 4) }
  let(:take) do
    {"number" => 1,
     "sample_rate_hz" => 48_000,
     "time_reference_samples" => 0,
     "date" => "",
     "time" => "",
     "files" => [{"file" => "01 a.wav", "name" => "a", "lane" => 1}]}
  end

  it "fills a lost block with silence, so that tracks stay aligned" do
    recorder = described_class.new(format, @folder, take)
    block = Numo::Int32[[256], [512], [768], [1024]].to_binary
    queue = recorder.instance_variable_get(:@queue)
    queue.push(block, 0)
    queue.push(block, 8)
    recorder.stop("over")
    read = File.open(File.join(@folder, "01 a.wav"), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).read_s32(0, 20)[true, 0].to_a }
    expect(read).to eq([256, 512, 768, 1024, 0, 0, 0, 0, 256, 512, 768, 1024])
  end

  it "neither counts nor keeps a block that comes after the end of the take" do
    recorder = described_class.new(format, @folder, take)
    block = Numo::Int32[[256], [512], [768], [1024]].to_binary
    recorder.push(block)
    recorder.stop("over")
    recorder.push(block)
    read = File.open(File.join(@folder, "01 a.wav"), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).frames }
    expect([recorder.frames, read, Loomshuttle::Engine::Journal.read(@folder)["frames"]]).to eq([4, 4, 4])
  end

  {"a block" => :write, "a header" => :refresh, "the end of a file" => :close}.each do |what, call|
    it "says when #{what} cannot be written, ends in good order and keeps what was there" do
      seconds = [0, 0, 2, 2].each
      recorder = described_class.new(format, @folder, take, clock: -> { seconds.next })
      file = recorder.instance_variable_get(:@files).first.last
      recorder.push(Numo::Int32[[256], [512], [768], [1024]].to_binary)
      Thread.pass until recorder.waiting_blocks.zero? && file.frames == 4
      allow(file).to receive(call).and_raise(Errno::EIO)
      2.times { recorder.push(Numo::Int32[[1], [2], [3], [4]].to_binary) }
      recorder.stop("over")
      expect([recorder.fault, recorder.frames]).to eq(["Input/output error", 12])
      expect(Loomshuttle::Engine::Journal.read(@folder)).to include("state" => "closed", "reason" => "over")
      expect(File.binread(File.join(@folder, "01 a.wav"))).to include([1, 0, 0, 2, 0, 0, 3, 0, 0, 4, 0, 0].pack("C*"))
    end
  end

  it "never writes over a file that is there" do
    File.write(File.join(@folder, "01 a.wav"), "mine")
    expect { described_class.new(format, @folder, take) }.to raise_error(Errno::EEXIST)
    expect(File.read(File.join(@folder, "01 a.wav"))).to eq("mine")
  end
end

RSpec.describe Loomshuttle::Engine::Player do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:format) { Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: 3, lanes_out: 3, block_frames: 4) }

  def source(values, lane)
    path = File.join(@folder, "#{lane}.wav")
    File.binwrite(path, WavFiles.pcm16(values))
    Loomshuttle::Engine::FileSource.new(path, channel: 1, lane: lane)
  end

  def play(player, count)
    Array.new(count) {
      sleep 0.001 until (bytes = player.take) || player.over? || false
      bytes && Numo::Int32.from_binary(bytes, [4, 3]) >> 16
    }
  end

  it "plays each source into its lane, to the last frame" do
    blocks = play(described_class.new(format, [source([1, 2, 3, 4, 5], 1), source([9, 8], 3)], label: "x"), 2)
    expect(blocks.map(&:to_a)).to eq([[[1, 0, 9], [2, 0, 8], [3, 0, 0], [4, 0, 0]], [[5, 0, 0], [0, 0, 0], [0, 0, 0], [0, 0, 0]]])
  end

  it "says how loud each lane is" do
    player = described_class.new(format, [source([16_384, 0], 2)], label: "x")
    play(player, 1)
    expect(player.peak_dbfs).to eq([-150.0, -6.0, -150.0])
  end

  it "goes round when it is asked to" do
    player = described_class.new(format, [source([1, 2, 3, 4], 1)], label: "x", repeat: true)
    expect(play(player, 3).map { |block| block[true, 0].to_a }).to eq([[1, 2, 3, 4]] * 3)
    player.stop
  end

  it "adds sources on one lane within full scale" do
    blocks = play(described_class.new(format, [source([30_000, -30_000], 1), source([30_000, -30_000], 1)].tap { |both| }, label: "x"), 1)
    expect(blocks.first[0..1, 0].to_a).to eq([32_767, -32_768])
  end
end

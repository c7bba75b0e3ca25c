# frozen_string_literal: true

require "core_helper"
require "support/device_contract"
require "support/pulse_loop"
require_relative "../../boot/engine"

RSpec.describe Loomshuttle::Engine::Device::AlsaDevice do
  before(:all) do
    @loop = PulseLoop.new.start
    @before = ENV.to_h
    ENV.update(@loop.environment)
  end

  after(:all) do
    ENV.replace(@before)
    @loop.remove
  end

  let(:wish) { {"id" => "pulse", "rate_hz" => 48_000, "lanes_in" => 32, "lanes_out" => 32, "buffer_ms" => 300} }
  let(:device) { described_class.new(wish) }
  # The plugin may hang for ever when its server is killed, which a card does not: here the device
  # goes away by being closed under whoever reads it.
  let(:unplug) { device.close }

  after { device.close }

  it_behaves_like "a device port"

  # The loop is the whole way: what is played is what is recorded, each lane from its own. Where the
  # machine is busy, the loop's server leaves frames out without an error, which a card says
  # (9-sound): then the whole is tried again, never a part of it taken for right.
  it "records what it plays, 32 lanes each way, every sample compared" do
    tries = Array.new(4) { |try| (try.zero? || @differing > 0) ? @differing = differing_of_one_try : nil }
    expect(tries.compact.last).to eq(0)
  end

  def differing_of_one_try
    device.close
    format = device.open
    random = Numo::Int32.new(format.block_frames * 60, 32).rand(-2**30, 2**30)
    random[true, true] = random / 256 * 256
    heard = String.new
    buffer = String.new
    # Silence first: the plugin needs a moment before it runs evenly.
    140.times do |turn|
      block = turn - 30
      bytes = block.between?(0, 59) ? random[(block * format.block_frames)...((block + 1) * format.block_frames), true].to_binary : "\0" * format.block_bytes_out
      next unless device.read(buffer, 5)

      heard << buffer
      device.write(bytes)
    end
    recorded = Numo::Int32.from_binary(heard, [heard.bytesize / 128, 32])
    start = (0...recorded.shape[0]).find { |frame| recorded[frame, 0] == random[0, 0] && recorded[frame, 31] == random[0, 31] }
    return random.size unless start

    length = [random.shape[0], recorded.shape[0] - start].min
    expect(length).to be > 48_000 / 2
    (recorded[start...(start + length), true] - random[0...length, true]).ne(0).count
  end

  it "says what it does not do, instead of doing something else" do
    expect { described_class.new(wish.merge("id" => "hw:77,0")).open }.to raise_error(Loomshuttle::Engine::Device::Lost, /hw:77,0/)
  end

  it "lists what ALSA knows, with what each can do" do
    list = Loomshuttle::Engine::Device::Alsa::Cards.list(more: ["pulse", "hw:77,0"])
    expect(list.find { |one| one[:id] == "pulse" }).to include(kind: "alsa", lanes_in: be >= 32, rates_hz: include(48_000), formats: include("S32_LE", "S16_LE"))
    expect(list.find { |one| one[:id] == "hw:77,0" }).to include(lanes_in: nil, fault: /hw:77,0/)
  end
end

# The device on a PCM that does what a script says, call by call: a card of two lanes whose first has each frame's number.
RSpec.describe Loomshuttle::Engine::Device::AlsaDevice, "on a card that is late" do
  alsa = Loomshuttle::Engine::Device::Alsa

  # Of the answers of Alsa::Pcm#read: frames that it gives (0 for none yet), :late, :gone, nil where nothing came in time.
  scripted = Class.new do
    attr_reader :handle, :starts

    def initialize(script)
      @script, @frame, @starts = script.dup, 0, 0
    end

    def frame_bytes = 8
    def delay_frames = 0
    def prepare = true
    def start = @starts += 1
    def close = nil
    def write(bytes, _) = bytes.bytesize / 8

    def read(into, from_frame, _)
      said = @script.empty? ? 1024 : @script.shift
      raise Loomshuttle::Engine::Device::Lost, "No such device" if said == :gone
      return said unless said.is_a?(Integer)

      # Never more than was asked for.
      [said, 1024 - from_frame].min.times { into << [@frame, 0].pack("l<2") && @frame += 1 }
      [said, 1024 - from_frame].min
    end
  end

  define_method(:device_on) do |script|
    @input = scripted.new(script)
    allow(alsa::Library).to receive(:snd_pcm_link)
    allow(alsa::Pcm).to receive(:new).and_return(@input, scripted.new([]))
    described_class.new("id" => "scripted", "lanes_in" => 2, "lanes_out" => 2).tap(&:open)
  end

  # @return [Array] of one block: first frame, whether all its frames follow each other, whether frames were said to be lost
  def block(device)
    buffer = String.new
    lost = device.read(buffer, 1.0) or return
    frames = buffer.unpack("l<*").each_slice(2).map(&:first)
    [frames.first, frames == [*frames.first...(frames.first + 1024)], lost.positive?]
  end

  {
    "short reads" => [[300, 0, 200, 524], [[0, true, false], [1024, true, false]]],
    "late in the middle of a block" => [[300, :late, 0, 700, 324], [[300, true, true], [1324, true, false]]],
    "late before a block" => [[1024, :late], [[0, true, false], [1024, true, true]]],
    "late twice in one block" => [[300, :late, 10, :late], [[310, true, true], [1334, true, false]]],
    "late at the last frame" => [[1023, :late], [[1023, true, true], [2047, true, false]]]
  }.each do |what, (script, blocks)|
    it "gives whole blocks and goes on: #{what}" do
      device = device_on(script)
      expect(Array.new(2) { block(device) }).to eq(blocks)
      expect(@input.starts).to eq(1 + script.count(:late))
    end
  end

  it "counts what was read of a block that has a hole as lost, besides what the clock says" do
    device = device_on([900, :late])
    expect(device.read(String.new, 1.0)).to be >= 901
  end

  it "keeps the part that it has while nothing comes, and is lost where the card is gone, in the middle too" do
    device = device_on([300, nil, 724, 5, :gone])
    expect([block(device), block(device)]).to eq([nil, [0, true, false]])
    expect { device.read(String.new, 1.0) }.to raise_error(Loomshuttle::Engine::Device::Lost, /No such device/)
  end
end

RSpec.describe Loomshuttle::Engine::Device::Wire do
  it "is exact in 32, packed 24 and 16 bit, there and back" do
    samples = Numo::Int32.new(999).rand(-2**31 + 1, 2**31 - 1)
    {"S32_LE" => 0, "S24_3LE" => 8, "S16_LE" => 16}.each do |format, dropped|
      kept = (samples >> dropped) << dropped
      narrow = described_class.from_s32(samples.to_binary, format)
      expect(narrow.bytesize).to eq(999 * (32 - dropped) / 8)
      expect(described_class.to_s32(narrow, format)).to eq(kept.to_binary)
    end
  end
end

RSpec.describe Loomshuttle::Engine::Devices do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:devices) { described_class.new(standin_path: "/nowhere", chosen_path: File.join(@folder, "device.json"), alsa_names: ["pulse"]) }

  it "remembers what was chosen, and opens nothing that is not in its list" do
    expect(devices.chosen.name).to eq("stand-in desk")
    expect(devices.device({"kind" => "alsa", "id" => "pulse"}).name).to eq("ALSA pulse")
    expect(devices.chosen.name).to eq("ALSA pulse")
    ["file:/etc/passwd", "hw:0", "plug:x", nil].each { |id| expect { devices.device({"kind" => "alsa", "id" => id}) }.to raise_error(Loomshuttle::BadInput, /a device of the list/) }
    File.write(File.join(@folder, "device.json"), "5")
    expect(devices.chosen.name).to eq("stand-in desk")
  end
end

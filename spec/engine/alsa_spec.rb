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

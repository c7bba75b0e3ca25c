# frozen_string_literal: true

require "core_helper"
require "support/device_contract"
require_relative "../../boot/engine"
require_relative "../../boot/standin"

RSpec.describe Loomshuttle::Engine::Device::MemoryDevice do
  let(:device) { described_class.new(blocks) }
  let(:blocks) { Array.new(5) { Numo::Int32.zeros(64, 2) } }
  let(:unplug) { nil }

  it_behaves_like "a device port"

  describe "with other lanes out than in" do
    let(:device) { described_class.new(blocks, lanes_out: 7) }

    it_behaves_like "a device port"

    it("says both") { expect(device.open).to have_attributes(lanes_in: 2, lanes_out: 7, block_bytes_out: 7 * 64 * 4) }
  end

  describe "that hangs" do
    let(:device) { described_class.new([*blocks.first(2), :hang]) }
    it "answers nil for as long as it does" do
      device.open
      buffer = String.new
      expect(Array.new(4) { device.read(buffer, 0.01) }).to eq([0, 0, nil, nil])
    end
  end

  it "tells how many frames were lost before a block" do
    device = described_class.new([blocks[0], 23, blocks[1]]).tap(&:open)
    buffer = String.new
    expect(Array.new(2) { device.read(buffer, 1) }).to eq([0, 23])
  end
end

RSpec.describe Loomshuttle::Engine::Device::SocketDevice do
  around { |example| Dir.mktmpdir { |folder| (@path = File.join(folder, "card.sock")) && example.run } }

  let!(:port) { Loomshuttle::Standin::AudioPort.new(path: @path, rate_hz: 48_000, lanes: 4, block_frames: 64) }
  let!(:giver) { Thread.new { loop { (@hanging ? nil : port.give("\1" * (4 * 64 * 4))).then { sleep 0.001 } } } }
  let(:device) { described_class.new(path: @path) }
  let(:unplug) { giver.kill.join && port.close }

  def hang = @hanging = true

  after do
    giver.kill
    port.close
  end

  it_behaves_like "a device port", hangs: true

  it "is lost at once where nobody listens" do
    expect { described_class.new(path: "#{@path}.none").open }.to raise_error(Loomshuttle::Engine::Device::Lost)
  end

  it "is lost where somebody listens who says nothing" do
    silent = UNIXServer.new("#{@path}.silent")
    expect { described_class.new(path: "#{@path}.silent").open }.to raise_error(Loomshuttle::Engine::Device::Lost, /does not say what it is/)
  ensure
    silent&.close
  end

  # Half a block, a pause, the other half: nothing of it is lost or doubled.
  it "keeps what came of a block while it waits for the rest" do
    server = UNIXServer.new("#{@path}.other")
    device = described_class.new(path: "#{@path}.other")
    desk = Thread.new { server.accept.tap { |client| client.write("{\"rate_hz\":48000,\"lanes_in\":1,\"lanes_out\":1,\"block_frames\":4}\n") } }
    device.open
    desk.value.write("abcdefgh")
    buffer = String.new
    expect(device.read(buffer, 0.05)).to be_nil
    desk.value.write("ijklmnop" + "0123456789abcdef")
    expect([device.read(buffer, 5), buffer.dup, device.read(buffer, 5), buffer]).to eq([0, "abcdefghijklmnop", 0, "0123456789abcdef"])
  ensure
    server&.close
  end
end

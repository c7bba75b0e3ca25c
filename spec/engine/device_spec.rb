# frozen_string_literal: true

require "core_helper"
require "support/device_contract"
require_relative "../../boot/engine"
require_relative "../../boot/standin"

RSpec.describe Loomshuttle::Engine::Device::MemoryDevice do
  let(:device) { described_class.new(Array.new(5) { Numo::Int32.zeros(64, 2) }) }
  let(:unplug) { nil }

  it_behaves_like "a device port"
end

RSpec.describe Loomshuttle::Engine::Device::SocketDevice do
  let(:number) { Addrinfo.tcp("127.0.0.1", 0).bind { |socket| socket.local_address.ip_port } }
  let!(:port) { Loomshuttle::Standin::AudioPort.new(port: number, rate_hz: 48_000, lanes: 4, block_frames: 64) }
  let!(:giver) { Thread.new { loop { port.give("\1" * (4 * 64 * 4)).then { sleep 0.001 } } } }
  let(:device) { described_class.new(port: number) }
  let(:unplug) { giver.kill.join && port.close }

  after { giver.kill }

  it_behaves_like "a device port"

  it "is lost at once where nobody listens" do
    expect { described_class.new(port: Addrinfo.tcp("127.0.0.1", 0).bind { |socket| socket.local_address.ip_port }).open }.to raise_error(Loomshuttle::Engine::Device::Lost)
  end
end

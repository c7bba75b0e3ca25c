# frozen_string_literal: true

# What every device port does. The including group gives `device`; `unplug`, after which the
# device is gone; and, where it says hangs: true, `hang`, after which it gives no block without
# closing.
RSpec.shared_examples "a device port" do |hangs: false|
  let(:patience_s) { 5.0 }

  after { device.close }

  def block_of(device, format)
    buffer = String.new
    lost = nil
    100.times { (lost = device.read(buffer, patience_s)) && break }
    expect(buffer.bytesize).to eq(format.block_bytes_in)
    [lost, buffer]
  end

  it "opens with its format, reads blocks into a buffer of ours and takes blocks of its own size" do
    format = device.open
    expect(format).to have_attributes(rate_hz: be > 0, lanes_in: be > 0, lanes_out: be > 0, block_frames: be > 0)
    3.times do
      lost, = block_of(device, format)
      expect(lost).to be >= 0
      expect(device.write("\0" * format.block_bytes_out)).to be >= 0
    end
  end

  it "says that it is lost, in one way only, when it goes away" do
    device.open
    unplug
    buffer = String.new
    expect { 1000.times { device.read(buffer, 0.1) } }.to raise_error(Loomshuttle::Engine::Device::Lost)
  end

  it "answers nil when no block comes in time", if: hangs do
    format = device.open
    block_of(device, format)
    hang
    buffer = String.new
    # What was on its way still comes.
    expect(Array.new(200) { device.read(buffer, 0.05) }).to include(nil)
  end

  it "can be closed twice, from another thread too, and a read that waits ends as lost" do
    device.open
    reading = Thread.new do
      buffer = String.new
      loop { device.read(buffer, 0.1) }
    rescue Loomshuttle::Engine::Device::Lost => e
      e
    end
    2.times { Thread.new { device.close }.join }
    expect(reading.join(60)&.value).to be_a(Loomshuttle::Engine::Device::Lost)
  end

  it "can be opened again after it was closed" do
    device.open
    device.close
    format = nil
    begin
      format = device.open
    rescue Loomshuttle::Engine::Device::Lost
      sleep 0.02
      retry
    end
    block_of(device, format)
  end

  it("has a name for people") { expect(device.name).to match(/\w+/) }
end

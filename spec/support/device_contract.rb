# frozen_string_literal: true

# What every device port does. The including group gives `device`, and `unplug`, after
# which the device is gone.
RSpec.shared_examples "a device port" do
  it "opens with its format, reads blocks into a buffer of ours and takes blocks" do
    format = device.open
    expect(format).to have_attributes(rate_hz: 48_000, lanes_in: be > 0, lanes_out: be > 0, block_frames: be > 0)
    buffer = String.new
    3.times do
      expect(device.read(buffer)).to equal(buffer)
      expect(buffer.bytesize).to eq(format.block_bytes_in)
      device.write("\0" * format.block_bytes_out)
    end
  end

  it "says that it is lost, in one way only, when it goes away" do
    device.open
    unplug
    buffer = String.new
    expect { 1000.times { device.read(buffer) } }.to raise_error(Loomshuttle::Engine::Device::Lost)
  end

  it("has a name") { expect(device.name).to be_a(String) }
end

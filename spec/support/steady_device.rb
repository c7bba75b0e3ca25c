# frozen_string_literal: true

# A device in memory that gives blocks until it is unplugged: frame n of lane l is
# (n * 8 + l) steps of 24 bits. What is played to it is kept.
class SteadyDevice
  FORMAT = Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: 4, lanes_out: 4, block_frames: 64)

  attr_reader :played

  def initialize
    @frame = 0
    @played = []
  end

  def name = "steady"

  # Can be opened again after it was unplugged.
  def open
    @unplugged = false
    FORMAT
  end

  def read(buffer)
    raise Loomshuttle::Engine::Device::Lost, "unplugged" if @unplugged

    sleep 0.001
    frames = Numo::Int32.new(FORMAT.block_frames, 1).seq(@frame) * 8
    @frame += FORMAT.block_frames
    buffer.replace(((frames + Numo::Int32[0, 1, 2, 3]) << 8).to_binary)
  end

  def write(bytes) = @played << bytes
  def close = nil
  def unplug = @unplugged = true
end

# frozen_string_literal: true

# A device in memory that gives blocks until it is unplugged: frame n of lane l is
# (n * lanes + l) steps of 24 bits, going round within 24 bits. What is played to it is kept. It can
# be unplugged and plugged in again, and hang.
class SteadyDevice
  FORMAT = Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: 4, lanes_out: 4, block_frames: 64)
  STEPS = 2**23

  attr_reader :played, :format
  attr_writer :format

  # @param pace_s [Float] between two blocks
  def initialize(format: FORMAT, pace_s: 0.001)
    @format = format
    @pace_s = pace_s
    @frame = 0
    @played = []
    @plugged = true
  end

  def name = "steady"

  # Can be opened again after it was plugged in again.
  def open
    raise Loomshuttle::Engine::Device::Lost, "unplugged" unless @plugged

    @format
  end

  # @return [Numo::Int32] [frames] of one lane from 0, in steps
  def self.samples(frames, lane, lanes, from: 0) = (Numo::Int64.new(frames).seq(from) * lanes + lane) % STEPS

  def read(buffer, wait_s)
    raise Loomshuttle::Engine::Device::Lost, "unplugged" unless @plugged
    return sleep(wait_s) && nil if @hanging

    sleep @pace_s if @pace_s > 0
    frames = Numo::Int64.new(@format.block_frames, 1).seq(@frame) * @format.lanes_in
    @frame += @format.block_frames
    buffer.replace(Numo::Int32.cast(((frames + Numo::Int64.new(@format.lanes_in).seq) % STEPS) << 8).to_binary)
    lost = @lost.to_i
    @lost = nil
    lost
  end

  def write(bytes)
    @played << bytes.dup
    0
  end

  def close = nil
  def unplug = @plugged = false
  def plug = @plugged = true
  def hang(on = true) = @hanging = on

  # So many frames never come, before the next block.
  def lose(frames)
    @lost = frames
    @frame += frames
  end
end

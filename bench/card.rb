# frozen_string_literal: true

# A card for the bench: speaks the stand-in's audio line, of any number of lanes and any rate,
# and costs next to nothing, so that what is measured is the engine.
#
#   ruby bench/card.rb SOCKET LANES RATE_HZ [loop]
#
# With "loop" it gives back what it got, lane by lane, as a desk on the recorder does.
#
# Blocks are made before the first one is due: lane 1 counts blocks in its first sample, all
# other samples are noise. Like a real card it keeps BUFFER blocks and no more: a computer that
# is later than that loses a block for good. Where the card itself was kept from running, as machines
# of the cloud do, its time stands still for as long: what is counted is what the computer was late.
# Once a second it writes a line of JSON: blocks given and lost so far, the most that waited for the
# computer within that second, and how long the card stood still so far.
require "json"
require "socket"

BLOCK_FRAMES = 1024
BUFFER = 8
PREPARED = 32

path, lanes, rate_hz = ARGV[0], ARGV[1].to_i, ARGV[2].to_i
block_bytes = lanes * BLOCK_FRAMES * 4
noise = Random.new(7)
# Full 24 bits in the upper three bytes, as a converter gives them, 20 dB down.
blocks = Array.new(PREPARED) { Array.new(lanes * BLOCK_FRAMES) { noise.rand(-838_860..838_860) << 8 }.pack("l<*") }

client = UNIXServer.new(path).accept
client.write(JSON.generate(rate_hz: rate_hz, lanes_in: lanes, lanes_out: lanes, layout: "S32LE", block_frames: BLOCK_FRAMES) + "\n")

loops = ARGV[3] == "loop"
came = Queue.new
silence = "\0" * block_bytes
given = lost = returned = most = 0
stood_ms = 0.0
outgoing = Queue.new
# The engine gives a block back for each that it took: what is not back yet waits.
Thread.new do
  buffer = String.new(capacity: block_bytes)
  while client.read(block_bytes, buffer)&.bytesize == block_bytes
    returned += 1
    came << buffer.dup if loops
  end
rescue SystemCallError
  nil
ensure
  exit!
end
Thread.new do
  loop { client.write(outgoing.pop) }
rescue SystemCallError
  exit!
end

start_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
(0..).each do |block|
  left_s = start_s + block * BLOCK_FRAMES / rate_hz.to_f - Process.clock_gettime(Process::CLOCK_MONOTONIC)
  sleep left_s if left_s > 0
  late_s = start_s + block * BLOCK_FRAMES / rate_hz.to_f - Process.clock_gettime(Process::CLOCK_MONOTONIC)
  if late_s < -2.0 * BLOCK_FRAMES / rate_hz
    start_s -= late_s
    stood_ms -= late_s * 1000
  end
  waiting = given - returned
  most = [most, waiting].max
  if waiting >= BUFFER
    lost += 1
  else
    bytes = blocks[block % PREPARED]
    bytes.setbyte(0, 0)
    bytes[1, 3] = [block].pack("L<")[0, 3]
    bytes = came.empty? ? silence : came.pop if loops
    outgoing << bytes
    given += 1
  end
  next unless (block % (rate_hz / BLOCK_FRAMES)).zero?

  $stdout.write("#{JSON.generate(given: given, lost: lost, most_waiting: most, stood_ms: stood_ms.round)}\n")
  $stdout.flush
  most = 0
end

# frozen_string_literal: true

# Turns a sewn loop so many times, in blocks, and holds every sample against a plain model.
#   bundle exec ruby bench/loop.rb 10000
require_relative "../boot/core"

turns = Integer(ARGV[0] || 10_000)
frames, from, to, seam, block = 9_600, 1_237, 6_041, 240, 1_024
samples = Numo::SFloat.new(1, frames).rand(-1, 1)
source = Struct.new(:samples) do
  def frames = samples.shape[1]
  def channels = 1
  def read(at, count) = samples[true, at...(at + count)]
end
voice = Loomshuttle::Render::Voice.new(key: "a", source: source.new(samples), lanes: [1])
program = Loomshuttle::Render::Program.new(label: "loop", rate_hz: 48_000, voices: [voice], length_frames: frames).with_loop(from...to, seam)

# One turn as it is from the second on.
share = (Numo::SFloat.new(seam).seq + 1) / seam
turn = samples[0, from...to].dup
turn[0...seam] = samples[0, to...(to + seam)] + (turn[0...seam] - samples[0, to...(to + seam)]) * share
length = to - from
expected = Numo::SFloat.hstack([turn] * (block / length + 2))

renderer = Loomshuttle::Render::Renderer.new(lanes: 1)
worst, off, at = 0.0, 0, to
while at < to + turns * length
  phase = (at - from) % length
  difference = (renderer.block(program, at, block)[0, true] - expected[phase...(phase + block)]).abs
  worst = [worst, difference.max].max
  off += difference.gt(1e-6).count_true
  at += block
end
puts JSON.generate(turns: turns, samples: at - to, off: off, worst_difference: worst)

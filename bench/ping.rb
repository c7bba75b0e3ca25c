# frozen_string_literal: true

# Measures the return ping's ear: so many random ways from 64 return lanes to 64 inputs, with crossed, doubled, dead and
# inverted lanes, losses up to 20 dB, latencies up to 9,000 frames and noise at -50 dBFS; how many are named wholly right.
#   bundle exec ruby bench/ping.rb 500
require_relative "../boot/core"
require_relative "timing"
Timing.extend(Timing)

# One way through desk and cables after the other.
class RandomReturns
  include Loomshuttle

  LANES = Ear::Sequence::LANES
  # -30 dBFS.
  SENT = 10**(-30 / 20.0)
  NOISE = 10**(-50 / 20.0)

  def initialize(seed)
    @random = Random.new(seed)
    Numo::NArray.srand(seed)
    # What each lane sends, ready to be transformed: a way is a rotation, which is made by counting on.
    @twice = Ear::Sequence::ORDERS.to_h { |order| [order, (1..LANES).map { |lane| Numo::SFloat.cast(Ear::Sequence.of_lane(lane, order: order)).then { |turn| Numo::SFloat.hstack([turn, turn]) } }] }
  end

  # @return [Array(Integer, Integer)] inputs, and those named wholly right
  def one(inputs)
    latency = @random.rand(9_000)
    wired = wiring(inputs)
    right = wired.count do |ways|
      forward, backward = Ear::Sequence::ORDERS.map { |order| came_back(ways, order, latency) }
      heard = Ear::Ping.heard(forward, backward, sent: SENT)
      heard.map { |ping| [ping.lane, ping.inverted, ping.latency_frames] } == ways.map { |lane, gain| [lane, gain.negative?, latency] } &&
        heard.zip(ways).all? { |ping, (_, gain)| (ping.gain - gain).abs < 0.03 } or next warn("sent #{ways.inspect} at #{latency}, heard #{heard.map(&:to_a).inspect}")

      true
    end
    [inputs, right]
  end

  private

  # Straight, then two crossed, one on two inputs, dead ones, inverted ones.
  def wiring(inputs)
    lanes = (1..LANES).to_a.sample(inputs, random: @random)
    a, b = (0...inputs).to_a.sample(2, random: @random)
    lanes[a], lanes[b] = lanes[b], lanes[a]
    lanes.map.with_index do |lane, at|
      next [] if @random.rand < 0.1

      doubled = (@random.rand < 0.1) ? [lanes[(at + 1) % inputs]] : []
      [lane, *doubled].uniq.sort.map { |one| [one, 10**(-@random.rand * 20 / 20.0) * ((@random.rand < 0.1) ? -1 : 1)] }
    end
  end

  def came_back(ways, order, latency)
    ways.reduce(Numo::SFloat.new(Ear::Sequence::LENGTH).rand_norm(0, NOISE)) do |sum, (lane, gain)|
      from = Ear::Sequence::LENGTH - latency
      sum + @twice[order][lane - 1][from...(from + Ear::Sequence::LENGTH)] * (gain * SENT)
    end
  end
end

count = Integer(ARGV[0] || 500)
inputs = Integer(ARGV[1] || 8)
returns = RandomReturns.new(3)
total = right = 0
ms = Timing.timed do
  count.times { returns.one(inputs).then { |all, good| (total += all) && right += good } }
end
puts JSON.generate(matrices: count, inputs: total, right: right, ms_an_input: (ms / total).round(1))

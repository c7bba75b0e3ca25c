# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Ear::Ping do
  let(:sequence) { Loomshuttle::Ear::Sequence }

  # What comes in of each order: each lane's sequence with gain, delay and a response, and noise; by plain sums in the time domain.
  def came_back(ways, noise_dbfs: -50, sent: 0.0316, seed: 1, response: {0 => 1.0})
    Numo::NArray.srand(seed)
    sequence::ORDERS.map do |order|
      ways.reduce(Numo::DFloat.new(sequence::LENGTH).rand_norm(0, 10**(noise_dbfs / 20.0))) do |sum, (lane, gain, latency)|
        turn = Numo::DFloat.cast(sequence.of_lane(lane, order: order))
        response.reduce(sum) { |all, (late, height)| all + rotated(turn, latency + late) * (gain * sent * height) }
      end
    end
  end

  def rotated(turn, late) = (late % turn.size).then { |by| by.zero? ? turn : Numo::DFloat.hstack([turn[-by..], turn[0...-by]]) }
  def heard(...) = described_class.heard(*came_back(...), sent: 0.0316)

  it "has a sequence of full length that is like itself at no other shift" do
    samples = Numo::DFloat.cast(sequence.samples)
    expect([samples.size, samples.sum.abs, samples.abs.sum]).to eq([65_535, 1, 65_535])
    [1, 2, 17, 1023, 30_000, 65_534].each { |by| expect(samples.mulsum(rotated(samples, by))).to eq(-1) }
  end

  it "names lane, gain, polarity and latency, also of latencies beyond many lanes' shifts" do
    [0, 5, 1022, 1023, 2113, 20_000].each do |latency|
      found = heard([[7, -0.8, latency]])
      expect(found.map { |one| [one.lane, one.gain.round(2), one.latency_frames, one.inverted, one.coloured] }).to eq([[7, -0.8, latency, true, false]])
    end
  end

  it "hears nothing in noise, and whoever is doubled as both" do
    expect(heard([])).to eq([])
    expect(heard([[1, 1.0, 100], [64, 0.5, 100], [2, 0.1, 100]]).map { |one| [one.lane, one.gain.round(2)] }).to eq([[1, 1.0], [2, 0.1], [64, 0.5]])
  end

  # As a printed mix has them: many lanes of one level, which fit together in pairs that were never sent.
  it "names every lane of a mix, however many and however alike" do
    all = (1..12).map { |lane| [lane, 1.0, 5120] }
    expect(heard(all).map { |one| [one.lane, one.latency_frames] }).to eq(all.map { |lane, _, latency| [lane, latency] })
    random = Random.new(4)
    3.times do |n|
      lanes = (1..64).to_a.sample(random.rand(2..40), random: random).sort
      latency = random.rand(9_000)
      gains = [1.0, 0.7, 0.5]
      ways = lanes.map { |lane| [lane, gains.sample(random: random) * [1, -1].sample(random: random), latency] }
      expect(heard(ways, seed: n + 1).map { |one| [one.lane, one.gain.round(1), one.latency_frames] }).to eq(ways)
    end
  end

  it "tells what was coloured on its way" do
    room = (0..60).to_h { |n| [n * 3, (n.zero? ? 1.0 : 0.35 * (-0.97)**n)] }
    expect(heard([[3, 0.9, 700]], response: room).map { |one| [one.lane, one.latency_frames, one.coloured] }).to eq([[3, 700, true]])
    expect(heard([[3, 0.9, 700]], response: {0 => 1.0, 40 => 0.1}).map(&:coloured)).to eq([false])
  end

  it "is the correlation that a plain sum gives" do
    forward, = came_back([[2, 0.7, 31], [5, -0.4, 9]])
    response = described_class.response(forward)
    samples = Numo::DFloat.cast(sequence.samples)
    [0, 31 + sequence::SHIFT, 9 + 4 * sequence::SHIFT, 500, 65_534].each { |late| expect(response[late]).to be_within(1e-9).of(forward.mulsum(rotated(samples, late)) / 65_535) }
  end
end

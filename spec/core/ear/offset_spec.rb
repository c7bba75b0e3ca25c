# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Ear::Offset do
  let(:random) { Numo::NArray.srand(41).then { Numo::SFloat.new(130_000).rand_norm * 0.1 } }

  def noise(frames, level) = Numo::SFloat.new(frames).rand_norm * level
  # A microphone of another sound: a one-pole low pass, and its polarity as it is.
  def duller(samples) = samples.dup.tap { |out| out[1..] = samples[1..] * 0.4 + samples[0..-2] * 0.6 }

  it "finds by how much one recording is later, to the sample, whichever way, under noise as loud and from another microphone" do
    [1, 8_001, 43_333].each do |late|
      one = random[late...(late + 80_000)] + 0
      other = duller(random)[0...100_000] + noise(100_000, 0.1)
      expect([described_class.of(one, other)&.delay_frames,
        described_class.of(other, one)&.delay_frames]).to contain_exactly(be_between(late, late + 1), be_between(-late - 1, -late))
      expect(described_class.of_long(random[late...(late + 80_000)] + 0, random)&.delay_frames).to eq(late)
    end
  end

  it "agrees with the sum of products for every delay, worked out one by one" do
    one, other = random[0...900] + 0, random[37...700] + 0
    sums = (-600..600).to_h { |delay| [delay, (0...900).sum { |n| (n + delay).between?(0, other.size - 1) ? one[n] * other[n + delay] : 0.0 }] }
    expect(described_class.of(one, other).delay_frames).to eq(sums.max_by { |_, sum| sum }.first)
  end

  it "says nothing of two that have nothing in common, and of silence" do
    silence = Numo::SFloat.zeros(50_000)
    expect([described_class.of_long(random, noise(180_000, 0.1)), described_class.of(random, silence), described_class.of(silence, silence),
      described_class.of(random, Numo::SFloat.zeros(0))]).to all(be_nil)
  end
end

# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/engine"

RSpec.describe Loomshuttle::Engine::Meters do
  let(:format) { Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: 3, lanes_out: 3, block_frames: 1024) }
  let(:unpack) { Loomshuttle::Engine::Unpack.new(format) }
  let(:meters) { described_class.new(format) }

  def add(samples)
    unpack.levels(samples.to_binary)
    meters.add(unpack.low, unpack.high)
  end

  def flat(value) = Numo::Int32.new(1024, 3).fill(value)

  it "says peak and clips of each lane" do
    noise = Numo::Int32.new(1024, 3).rand(-2**22, 2**22) << 8
    noise[10, 2] = 2**31 - 256
    add(noise)
    read = meters.take
    expect([read[:clips], read[:peak_dbfs][2], read[:held_dbfs][2]]).to eq([[0, 0, 1], 0.0, 0.0])
    expect(read[:peak_dbfs][0]).to be_within(0.1).of(-6)
  end

  # 997 Hz is AES17's frequency: it meets its own crest within a second at any common rate.
  it "reads a 997 Hz sine's peak" do
    [0, -6, -12, -60].each do |dbfs|
      sine = Numo::NMath.sin(Numo::DFloat.new(48 * 1024).seq * 2 * Math::PI * 997 / 48_000) * 10**(dbfs / 20.0) * (2**31 - 256)
      (0...48).each { |i| add(Numo::Int32.cast(sine[(i * 1024)...((i + 1) * 1024)]).reshape(1024, 1).concatenate(Numo::Int32.zeros(1024, 2), axis: 1)) }
      expect(meters.take[:peak_dbfs][0]).to be_within(0.1).of(dbfs)
    end
  end

  # The lowest sample of all has no counterpart above zero.
  it "reads the same of what lies below zero" do
    [[-2**31, 0.0], [-2**30, -6.0], [-256, -138.5], [0, -150.0]].each do |value, dbfs|
      add(flat(value))
      expect(meters.take[:peak_dbfs]).to eq([dbfs] * 3)
    end
    expect(meters.take[:clips]).to eq([1, 1, 1])
  end

  it "answers the same again when no block came between, and zero before the first" do
    expect(meters.take[:peak_dbfs]).to eq([-150.0] * 3)
    add(flat(2**29))
    expect(meters.take).to eq(meters.take)
  end

  it "holds peaks until they are reset, of some lanes or of all" do
    add(flat(2**30))
    add(flat(0))
    expect(meters.take[:held_dbfs]).to eq([-6.0] * 3)
    meters.reset([2, 99])
    expect(meters.take[:held_dbfs]).to eq([-6.0, -150.0, -6.0])
    add(flat(0))
    meters.forget
    expect([meters.take[:held_dbfs], meters.ribbon]).to eq([[-150.0] * 3, []])
  end
end

RSpec.describe Loomshuttle::Engine::Unpack do
  # Every size: one lane, odd lanes, another block.
  it "turns wire blocks into planar 24-bit bytes without a float" do
    [[1, 4], [3, 5], [32, 1024], [7, 1]].each do |lanes, frames|
      format = Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: lanes, lanes_out: 1, block_frames: frames)
      samples = Numo::Int32.new(frames, lanes).rand(-2**30, 2**30)
      planar = described_class.new(format).planar(samples.to_binary)
      plain = (0...lanes).flat_map { |lane| (0...frames).flat_map { |frame| [samples[frame, lane]].pack("l<").bytes[1..3] } }
      expect(planar.bytes).to eq(plain)
    end
  end
end

RSpec.describe Loomshuttle::Engine::Clock do
  let(:times) { {mono: 100.0, utc: Time.utc(2026, 11, 25, 20)} }
  let(:clock) { described_class.new(mono: -> { times[:mono] }, utc: -> { times[:utc] }) }

  it "counts what passes while no device is open, at the rate of before, also when the clock on the wall is set back" do
    clock.open(48_000)
    clock.advance(4800)
    clock.note
    times[:mono] += 10
    times[:utc] -= 3600
    clock.open(48_000)
    expect([clock.frame, clock.session]).to eq([4800 + 480_000, 2])
  end

  it "says when a frame was" do
    clock.open(48_000)
    clock.advance(48_000)
    expect(clock.time_of(24_000)).to eq(Time.utc(2026, 11, 25, 20, 0, 0.5))
  end

  it "goes on where a take would be by now" do
    clock.begin_at(1_000_000, 48_000)
    times[:mono] += 2
    clock.open(48_000)
    expect(clock.frame).to eq(1_096_000)
  end
end

RSpec.describe Loomshuttle::Engine::RingFolder do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:format) { Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: 2, lanes_out: 2, block_frames: 1024) }

  it "leaves the pre-roll out where memory is short, and says why" do
    rings = described_class.new(@folder, free_bytes: ->(_) { 10**9 }).tap { |one| one.make(format) }
    expect([rings.preroll_s, rings.why_no_preroll]).to eq([30, nil])
    short = described_class.new(@folder, free_bytes: ->(_) { 10**7 }).tap { |one| one.make(format) }
    expect([short.preroll_s, short.why_no_preroll]).to match([0, /MB of memory would be needed, 10 MB are free/])
  end

  it "keeps the rings while the device stays what it is" do
    rings = described_class.new(@folder).tap { |one| one.make(format) }
    ring = rings.capture
    rings.make(format.with(rate_hz: 48_000))
    expect(rings.capture).to equal(ring)
    rings.make(format.with(lanes_in: 3))
    expect(rings.capture).not_to equal(ring)
  end
end

# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/earshot"
require "support/quiet_stage"
require "tmpdir"

# The ear on a ring of its own, on a clock that the spec turns.
RSpec.describe Loomshuttle::Earshot::Hearing do
  around do |example|
    Dir.mktmpdir do |folder|
      @ring = Loomshuttle::Rings::CaptureRing.create(File.join(folder, "capture"), lanes: 3, block_frames: 1024, rate_hz: 48_000, seconds: 6)
      @now_s = 100.0
      example.run
    end
  end

  let(:hearing) { described_class.new(-> { @ring }, clock: -> { @now_s }) }

  # Writes a stage into the ring from this frame on, and lets the ear read it.
  def play(stage, from_frame: 0)
    (stage.samples.shape[1] / 1024).times do |n|
      cut = Numo::SFloat.cast(stage.samples[true, (n * 1024)...((n + 1) * 1024)])
      planar = (0...3).map { |lane| QuietStage.bytes(cut[lane, true]) }.join
      wide = Numo::Int32.cast(cut * 2**31)
      @ring.write(from_frame + n * 1024, 1, wide.min(axis: 1).to_binary + wide.max(axis: 1).to_binary, planar)
    end
    hearing.turn
  end

  def tapped(lane) = QuietStage.new(lanes: 3, seconds: 2.2).tap { |stage| stage.put(lane, stage.stroke, at_s: 1.2) }
  def told = hearing.told[:arrivals].map { |one| one[:heard].first[:lane] }

  it "hears while it is wanted, tells an arrival for a while and then no more, and has an id for each" do
    play(tapped(1))
    expect([told, hearing.told[:listening]]).to eq([[], false])
    hearing.wanted(60)
    hearing.turn
    play(tapped(2), from_frame: 200_000)
    play(tapped(3), from_frame: 400_000)
    expect([told, hearing.told[:arrivals].map { |one| one[:id] }.uniq.size, hearing.told[:ready]]).to eq([[2, 3], 2, true])
    @now_s += 16
    hearing.turn
    expect(told).to eq([])
  end

  it "forgets what was heard when another check begins, and says nothing of lanes that it is told to leave out" do
    hearing.wanted(60)
    hearing.turn
    play(tapped(2))
    hearing.wanted(60, anew: true, deaf: [3])
    expect(hearing.told[:ready]).to be(false)
    hearing.turn
    play(tapped(3), from_frame: 200_000)
    expect(told).to eq([])
    play(tapped(1), from_frame: 400_000)
    expect(told).to eq([1])
  end
end

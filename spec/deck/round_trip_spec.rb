# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require_relative "../../boot/deck"

# A loop from output 2 to lane 3 that is 100 frames long, on a device that may lose blocks.
RSpec.describe Loomshuttle::Deck::RoundTrip do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:block) { 64 }
  let(:rate) { 1_000 }
  let(:ring) { Loomshuttle::Rings::CaptureRing.create(File.join(@folder, "capture"), lanes: 4, block_frames: block, rate_hz: rate, seconds: 10) }
  let(:starts) { [] }

  before { @frame = 6_400 }

  def clock = Loomshuttle::Rings::ClockPage::Reading.new(frame: @frame, session: 1, rate_hz: rate, block_frames: block, lanes_in: 4, lanes_out: 4, mono_s: 0.0)

  # Plays a program at once, as a device would hear it again.
  #
  # @param lost [Array<Array<Integer>>] blocks that are lost, for each time that it plays
  # @param late [Array<Integer>] blocks that are late, likewise
  def player(lost: [], late: [], program: nil)
    spec = self
    times = -1
    Object.new.tap do |played|
      played.define_singleton_method(:program) { program }
      played.define_singleton_method(:stop) { spec.starts << :stop }
      played.define_singleton_method(:late) { late[times] || 0 }
      played.define_singleton_method(:start) do |program, at_frame:|
        times += 1
        spec.starts << at_frame - spec.clock.frame
        spec.hear(program, at_frame, lost[times] || [])
        at_frame
      end
    end
  end

  def hear(program, at_frame, lost)
    lanes = Numo::Int32.zeros(4, 22 * block)
    out = program.voices.first
    lanes[2, (100 + block)...(100 + 2 * block)] = out.source.read(0, block)[0, true] * 2**31 if out.lanes == [2]
    (0...lanes.shape[1]).step(block).each_with_index do |from, index|
      next if lost.include?(index)

      planar = (0...4).map { |lane| lanes[lane, from...(from + block)].to_a.map { |s| [s >> 8].pack("l<").byteslice(0, 3) }.join }.join
      ring.write(at_frame - block + from, 1, "\0" * 32, planar)
    end
    @frame = at_frame + lanes.shape[1]
  end

  def measure(player, out: 2, into: 3) = described_class.new(player, -> { ring }, -> { clock }).measure(out, into)

  it "finds the impulse, which lay ready well before it sounded" do
    expect(measure(player)).to eq(frames: 100, ms: 100.0, height_dbfs: -6.0)
    expect(starts).to match([be >= rate * 0.4, :stop])
  end

  it "does not judge what it heard with a hole in it, or played too late, but listens again" do
    expect(measure(player(lost: [[2]]))).to include(frames: 100)
    expect(measure(player(late: [1, 2, 0]))).to include(frames: 100)
    expect(starts.count(:stop)).to eq(2 + 3)
  end

  it "says that the device loses blocks, and that nothing came back, only when that is so" do
    expect { measure(player(lost: [[2], [5], [3]])) }.to raise_error(Loomshuttle::BadInput, /device.*loses no blocks.*3 times/)
    expect { measure(player, out: 1) }.to raise_error(Loomshuttle::BadInput, /lane_in: 3.*nothing came back/)
    playing = Loomshuttle::Render::Program.new(label: "Take 3", rate_hz: rate, voices: [], length_frames: 10)
    expect { measure(player(program: playing)) }.to raise_error(Loomshuttle::BadInput, /playing: "Take 3".*stop it first/)
    expect { measure(player, into: 5) }.to raise_error(Loomshuttle::BadInput, /lane_in: 5.*1 to 4/)
  end
end

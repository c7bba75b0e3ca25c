# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require_relative "../../boot/deck"
require_relative "../../boot/earshot"

# What the deck sends in a return ping, block by block, through a desk of plain sums, into a ring that the ear reads.
RSpec.describe "A return ping from deck to ear" do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:lanes_in) { 5 }
  let(:block) { 1_000 }
  let(:random) { Random.new(7) }
  let(:ring) { Loomshuttle::Rings::CaptureRing.create(File.join(@folder, "capture"), lanes: lanes_in, block_frames: block, rate_hz: 48_000, seconds: 8) }

  # @param ways [Array<Array<Array(Integer, Float)>>] for each lane in: lane out and gain
  # @param lost [Integer, nil] number of a block that never comes
  def send_ping(lanes, ways, latency: 700, noise: 0.003, frames: nil, lost: nil)
    program = Loomshuttle::Files::Programs.new(@folder).ping({"lanes" => lanes, "level_dbfs" => -30, "frames" => frames}.compact, 48_000)
    sent = Loomshuttle::Render::Renderer.new(lanes: 8).block(program, 0, program.length_frames)
    expect(sent.abs.max).to be <= 10**(-30 / 20.0) + 1e-6
    length = program.length_frames + latency + block
    samples = Numo::SFloat.new(lanes_in, length).rand_norm(0, noise)
    ways.each_with_index { |all, lane| all.each { |from, gain| samples[lane, latency...(latency + program.length_frames)] += sent[from - 1, true] * gain } }
    write(samples, lost)
  end

  def write(samples, lost)
    (samples.shape[1] / block).times do |n|
      next if n == lost

      cut = samples[true, (n * block)...((n + 1) * block)]
      ints = Numo::Int32.cast((cut * 2**23).rint.clip(-2**23, 2**23 - 1)) * 256
      ring.write(9_600 + n * block, 1, "\0" * (8 * lanes_in), (0...lanes_in).map { |lane| Loomshuttle::Audio::Wav::Samples.to_24(ints[lane, true]) }.join)
    end
  end

  def heard(lanes, **more) = Loomshuttle::Earshot::Echo.new(-> { ring }).heard(at_frame: 9_600, inputs: (1..lanes_in).to_a, lanes: lanes, level_dbfs: -30, **more)

  it "is heard lane by lane: straight, crossed, turned over, summed, silent" do
    ring
    send_ping([2, 3, 5, 8], [[[2, 1.0]], [[5, 0.5]], [[3, -1.0]], [[2, 0.4], [8, 0.3]], []])
    found = heard(4).map { |one| one[:pings].map { |lane, gain, latency, coloured| [lane, gain.round(1), latency, coloured] } }
    # Sequences count within what is sent: 2, 3, 5 and 8 are the first to the fourth.
    expect(found).to eq([[[1, 1.0, 700, false]], [[3, 0.5, 700, false]], [[2, -1.0, 700, false]], [[1, 0.4, 700, false], [4, 0.3, 700, false]], []])
  end

  it "says in a second whether anything comes back at all, and how sure that is" do
    ring
    frames = Loomshuttle::Soundcheck::Proof::QUICK_LENGTH
    expect(frames / 48_000.0).to be < 1.0
    send_ping([1, 2, 3], [[[1, 1.0]], [[3, -0.3]], [], [[1, 0.5], [2, 0.5]], []], frames: frames)
    found = heard(3, quick: true)
    expect(found.map { |one| one[:gain_db] }).to match([be_within(1).of(0), be_within(1).of(-10.5), nil, be_within(1).of(-6), nil])
    expect(found.map { |one| one[:floor_db] }).to all(be < -15)
  end

  it "does not take a microphone that is open for silence" do
    ring
    send_ping([1], [[], [[1, 1.0]], [], [], []], noise: 0.2)
    expect(heard(1).map { |one| one[:floor_db] }).to all(be > -20)
  end

  it "says that a block was lost, and that none come" do
    ring
    send_ping([1], [[[1, 1.0]]] * 5, lost: 100)
    expect { heard(1) }.to raise_error(Loomshuttle::BadInput, /one was lost/)
    expect { Loomshuttle::Earshot::Echo.new(-> {}).heard(at_frame: 0, inputs: [1], lanes: 1, level_dbfs: -30) }.to raise_error(Loomshuttle::BadInput, /gives blocks/)
  end
end

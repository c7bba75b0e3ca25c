# frozen_string_literal: true

require "core_helper"

# A source in memory.
ListSource = Struct.new(:rows) do
  def frames = rows.first.size
  def channels = rows.size
  def read(from, count) = Numo::SFloat[*rows.map { |row| row[from, count] }]
  def close = nil
end

RSpec.describe Loomshuttle::Render::Renderer do
  def source(*rows) = ListSource.new(rows)
  def voice(source, lanes, **more) = Loomshuttle::Render::Voice.new(key: "v#{lanes.first}", source: source, lanes: lanes, **more)

  def program(*voices, length: voices.map(&:end_frames).max, **more)
    Loomshuttle::Render::Program.new(label: "x", rate_hz: 48_000, voices: voices, length_frames: length, **more)
  end

  def render(program, from, count, lanes: 3) = described_class.new(lanes: lanes).block(program, from, count).to_a

  it "lays each source on its lane, to the last frame, and silence behind" do
    expect(render(program(voice(source([0.5, 0.25, 0.125]), [2])), 1, 4)).to eq([[0.0] * 4, [0.25, 0.125, 0.0, 0.0], [0.0] * 4])
  end

  it "goes round within the block, wherever the loop's ends lie" do
    looped = program(voice(source([1.0, 0.5, 0.25]), [1])).with_loop(0...3)
    expect(render(looped, 0, 7).first).to eq([1.0, 0.5, 0.25, 1.0, 0.5, 0.25, 1.0])
    expect(render(looped.with_loop(1...2), 0, 4).first).to eq([1.0, 0.5, 0.5, 0.5])
  end

  it "gives a stereo source two lanes, or one lane the half of each side" do
    stereo = source([0.5, 0.5], [0.25, -0.5])
    expect(render(program(voice(stereo, [1, 3])), 0, 2)).to eq([[0.5, 0.5], [0.0, 0.0], [0.25, -0.5]])
    expect(render(program(voice(stereo, [2])), 0, 2)[1]).to eq([0.375, 0.0])
  end

  it "adds up what shares a lane, with each one's gain, and does not clip it" do
    both = program(voice(source([0.75]), [1]), voice(source([0.75]), [1]))
    expect(render(both, 0, 1).first).to eq([1.5])
    quieter = program(voice(source([0.5]), [1], gain_db: 20 * Math.log10(0.5)))
    expect(render(quieter, 0, 1).first.first).to be_within(1e-7).of(0.25)
  end

  it "mutes a voice whose source fails, says which and why, and plays the others" do
    broken = source([1.0]).tap { |one| one.define_singleton_method(:read) { |*| raise IOError, "gone" } }
    renderer = described_class.new(lanes: 2)
    expect(renderer.block(program(voice(broken, [1]), voice(source([0.5]), [2])), 0, 1).to_a).to eq([[0.0], [0.5]])
    expect(renderer.failed).to eq("v1" => "gone")
  end

  # A plain model beside it: sample by sample, no blocks.
  it "agrees with a plain sample-by-sample model on random programs, whatever the block's size" do
    random = Random.new(11)
    40.times do
      voices = Array.new(random.rand(1..4)) do |i|
        rows = Array.new(random.rand(1..2)) { Array.new(random.rand(1..70)) { random.rand(-8..8) / 16.0 } }
        rows.map! { |row| row.first(rows.map(&:size).min) }
        lanes = (rows.size == 2 && random.rand(2).zero?) ? [random.rand(1..3), random.rand(1..3)] : [random.rand(1..3)]
        Loomshuttle::Render::Voice.new(key: "v#{i}", source: source(*rows), lanes: lanes, at_frames: random.rand(0..30))
      end
      whole = program(*voices)
      a, b = [random.rand(0...whole.length_frames), random.rand(1..whole.length_frames)].minmax
      whole = whole.with_loop(a...b) if b > a && random.rand(2).zero?
      expect(in_blocks(whole, 300, random.rand(1..64))).to eq(plain(whole, 300))
    end
  end

  def in_blocks(whole, count, size)
    renderer = described_class.new(lanes: 3)
    (0...count).step(size).map { |from| renderer.block(whole, from, [size, count - from].min) }.inject { |one, other| one.concatenate(other, axis: 1) }.to_a
  end

  def plain(whole, count)
    at = 0
    frames = Array.new(count) do
      now = at
      at += 1
      at = whole.loop_frames.begin if whole.loop_frames && at == whole.loop_frames.end
      now
    end
    Array.new(3) { |lane| frames.map { |frame| whole.voices.sum(0.0) { |one| part(one, lane + 1, frame, whole.length_frames) } } }
  end

  def part(voice, lane, frame, length)
    at = frame - voice.at_frames
    return 0.0 if frame >= length || at.negative? || at >= voice.source.frames

    values = voice.source.rows.map { |row| row[at] }
    return (voice.lanes == [lane]) ? values.sum / values.size : 0.0 if voice.lanes.size == 1

    values.each_with_index.sum(0.0) { |value, channel| (voice.lanes[channel] == lane) ? value : 0.0 }
  end
end

RSpec.describe Loomshuttle::Render::Pieced do
  it "puts pieces where they belong, with silence between" do
    pieced = described_class.new([[5, ListSource.new([[4.0, 5.0]])], [1, ListSource.new([[1.0, 2.0]])]])
    expect([pieced.frames, pieced.read(0, 8).to_a]).to eq([7, [[0.0, 1.0, 2.0, 0.0, 0.0, 4.0, 5.0, 0.0]]])
    expect(pieced.read(2, 4).to_a).to eq([[2.0, 0.0, 0.0, 4.0]])
  end
end

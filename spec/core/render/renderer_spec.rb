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

  it "lays what somebody draws while it plays on top of what a voice has by itself" do
    trimmed = program(voice(source([0.5]), [1], gain_db: 20 * Math.log10(0.5)))
    drawn = trimmed.with_gains("v1" => 20 * Math.log10(0.5))
    expect([trimmed, drawn, drawn.with_gains("v1" => 0.0)].map { |one| render(one, 0, 1)[0][0].round(6) }).to eq([0.25, 0.125, 0.25])
  end

  it "gives a mono source every lane of its ways, each at its level" do
    sent = program(voice(source([0.5]), [], also: [[[1, 2], 0.0], [[3], 20 * Math.log10(0.5)]]))
    expect(render(sent, 0, 1, lanes: 4).flatten.map { |value| value.round(6) }).to eq([0.5, 0.5, 0.25, 0.0])
  end

  # A part that ends at its full height, one that is silent behind it: what rings on is what would have come, on a straight line.
  it "lets what would have come ring on over a seam, but for what is dry" do
    stem, click = source([1.0] * 8 + [0.0] * 8), source([0.5] * 16)
    voices = [voice(stem, [1]), voice(click, [2], dry: true)]
    ringing = program(*voices).with_order(Loomshuttle::Render::Order.new(ranges: [0...4, 8...16], seam_frames: 0, tail_frames: 4))
    expect(render(ringing, 0, 10, lanes: 2)).to eq([[1.0, 1.0, 1.0, 1.0, 0.75, 0.5, 0.25, 0.0, 0.0, 0.0], [0.5] * 10])
    # With a seam of two it is the whole of it all the same: what the seam takes the tail leaves.
    sewn = ringing.with(order: ringing.order.with(seam_frames: 2))
    expect(render(sewn, 0, 10, lanes: 1).first).to eq([1.0, 1.0, 1.0, 1.0, 0.75, 0.5, 0.25, 0.0, 0.0, 0.0])
    whole = render(ringing, 0, 10, lanes: 2)
    [1, 3, 7].each { |size| expect((0...10).step(size).map { |from| render(ringing, from, [size, 10 - from].min, lanes: 2) }.transpose.map(&:flatten)).to eq(whole), size.to_s }
    following = program(*voices).with_order(Loomshuttle::Render::Order.new(ranges: [0...4, 4...8], tail_frames: 4))
    expect(render(following, 0, 8, lanes: 1).first).to eq([1.0] * 8)
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

RSpec.describe "A loop that is sewn" do
  # A second, plain model: sample by sample.
  def plain(samples, loop, seam, from, count)
    turn = loop.end - loop.begin
    length = [seam, turn].min
    (from...(from + count)).map do |position|
      next samples[position] || 0.0 if position < loop.end

      done = (position - loop.begin) % turn
      here = samples[loop.begin + done] || 0.0
      next here if done >= length

      before = samples[loop.end + done] || 0.0
      before + (here - before) * ((done + 1) / length.to_f)
    end
  end

  it "is, in turns and blocks of any size, what a plain model makes of it" do
    random = Random.new(3)
    60.times do
      samples = Array.new(random.rand(30..400)) { random.rand - 0.5 }
      first = random.rand(samples.size - 1)
      loop = first...random.rand((first + 1)..samples.size)
      seam = random.rand(0..20)
      voice = Loomshuttle::Render::Voice.new(key: "a", source: ListSource.new([samples]), lanes: [1])
      program = Loomshuttle::Render::Program.new(label: "x", rate_hz: 48_000, voices: [voice], length_frames: samples.size).with_loop(loop, seam)
      from, count, block = random.rand(0..900), random.rand(1..700), random.rand(1..64)
      made = (0...count).step(block).flat_map { |at| Loomshuttle::Render::Renderer.new(lanes: 1).block(program, from + at, [block, count - at].min)[0, true].to_a }
      expect(made.zip(plain(samples, loop, seam, from, count)).map { |one, other| (one - other).abs }.max).to be < 1e-6
    end
  end

  # The parts joined by hand, each but the first with the line from what would have come behind the part before.
  def joined(samples, ranges, length)
    ranges.each_with_index.flat_map do |range, at|
      before = ranges[at - 1] if at.positive?
      seam = (before.nil? || before.end == range.begin) ? 0 : [length, range.size].min
      range.each_with_index.map do |frame, done|
        next samples[frame] if done >= seam

        was = samples[before.end + done] || 0.0
        was + (samples[frame] - was) * ((done + 1) / seam.to_f)
      end
    end
  end

  it "plays parts in any order, once, again or not at all, each voice as the joined parts are, in blocks of any size" do
    random = Random.new(8)
    60.times do
      samples = Array.new(random.rand(60..400)) { random.rand - 0.5 }
      ranges = Array.new(random.rand(1..6)) { random.rand(samples.size - 20).then { |first| first...random.rand((first + 1)..samples.size) } }
      seam = random.rand(0..20)
      voices = [1, 2].map { |lane| Loomshuttle::Render::Voice.new(key: lane.to_s, source: ListSource.new([samples]), lanes: [lane], at_frames: 0) }
      order = Loomshuttle::Render::Order.new(ranges: ranges, seam_frames: seam)
      program = Loomshuttle::Render::Program.new(label: "x", rate_hz: 48_000, voices: voices, length_frames: samples.size).with_order(order)
      whole = joined(samples, ranges, seam)
      expect(program.length_frames).to eq(whole.size)
      from, block = random.rand(0...whole.size), random.rand(1..64)
      count = whole.size - from + 10
      made = (0...count).step(block).map { |at| Loomshuttle::Render::Renderer.new(lanes: 2).block(program, from + at, [block, count - at].min) }.inject { |one, other| one.concatenate(other, axis: 1) }
      expect(made[0, true] == made[1, true]).to be(true)
      expect(made[0, true].to_a.zip(whole[from..] + [0.0] * 10).map { |one, other| (one - other).abs }.max).to be < 1e-6
    end
  end

  it "goes round within an order, and tells the bar that sounds" do
    samples = (0...1_000).map { |n| n / 1_000.0 }
    voice = Loomshuttle::Render::Voice.new(key: "a", source: ListSource.new([samples]), lanes: [1])
    bars = Loomshuttle::Render::Bars.new(map: Loomshuttle::Music::TempoMap.of(bpm: 60), at_frame: 0)
    program = Loomshuttle::Render::Program.new(label: "x", rate_hz: 50, voices: [voice], length_frames: 1_000, bars: bars)
      .with_order(Loomshuttle::Render::Order.new(ranges: [400...600, 0...200, 400...600]))
    heard = Loomshuttle::Render::Renderer.new(lanes: 1).block(program.with_loop(100...300), 0, 700)[0, true]
    expected = [*400...600, *0...100, *[*500...600, *0...100] * 2]
    expect((heard * 1_000).rint.to_a.map(&:to_i)).to eq(expected)
    expect([0, 199, 200, 399, 400].map { |position| program.place(position).first }).to eq([3, 3, 1, 1, 3])
  end

  it "does not click where its ends do not meet" do
    samples = (0...4_000).map { |n| Math.sin(n * 2 * Math::PI / 331) }
    voice = Loomshuttle::Render::Voice.new(key: "a", source: ListSource.new([samples]), lanes: [1])
    program = Loomshuttle::Render::Program.new(label: "x", rate_hz: 48_000, voices: [voice], length_frames: 4_000)
    steps = ->(sewn) { Loomshuttle::Render::Renderer.new(lanes: 1).block(program.with_loop(83...2_580, sewn), 0, 9_000)[0, true].to_a.each_cons(2).map { |a, b| (a - b).abs }.max }
    expect([steps[0] > 0.5, steps[240] < 0.03]).to eq([true, true])
  end

  it "mutes a voice, and gives one alone to lanes of its own" do
    voices = %w[a b].map.with_index(1) { |key, lane| Loomshuttle::Render::Voice.new(key: key, source: ListSource.new([[0.5, 0.5]]), lanes: [lane], gain_db: -6.0) }
    program = Loomshuttle::Render::Program.new(label: "x", rate_hz: 48_000, voices: voices, length_frames: 2)
    first = ->(one) { Loomshuttle::Render::Renderer.new(lanes: 4).block(one, 0, 1)[true, 0].to_a.map { |level| level.round(3) } }
    expect(first[program.with_muted(["a"])]).to eq([0.0, 0.251, 0.0, 0.0])
    expect(first[program.with_muted(["a"]).with_solo("a", [3, 4])]).to eq([0.0, 0.251, 0.5, 0.5])
    expect(first[program.with_solo("a", [3, 4]).with_solo("b", [3])]).to eq([0.251, 0.251, 0.5, 0.0])
    expect(program.with_solo("a", [3]).with_solo(nil, []).voices).to eq(voices)
  end
end

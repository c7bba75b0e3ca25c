# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require_relative "../../boot/deck"

# The player between a ring and a clock that the spec turns by hand: what an engine would play.
RSpec.describe Loomshuttle::Deck::Player do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:block) { 64 }
  let(:rate) { 8_000 }
  let(:lanes_out) { 3 }
  let(:ring) { Loomshuttle::Rings::PlayRing.create(File.join(@folder, "play"), lanes: lanes_out, block_frames: block, rate_hz: rate, slots: 250) }
  let(:player) { described_class.new(-> { ring }, -> { @clock }) }

  before { @clock = reading(1_000_000) }

  def reading(frame, session: 1)
    Loomshuttle::Rings::ClockPage::Reading.new(frame: frame, session: session, rate_hz: rate, block_frames: block, lanes_in: 8, lanes_out: lanes_out, mono_s: 0.0)
  end

  # Plays so many blocks as the engine does; the deck turns in between.
  def play(blocks, turning: true)
    Array.new(blocks) do
      bytes = ring.read(@clock.frame)
      @clock = reading(@clock.frame + block)
      player.turn if turning
      bytes ? Numo::Int32.from_binary(bytes, [block, lanes_out]).transpose.dup : Numo::Int32.zeros(lanes_out, block)
    end.inject { |one, other| one.concatenate(other, axis: 1) }
  end

  def ramp(frames, scale: 1.0) = Numo::SFloat.new(1, frames).seq(1) * (scale / 2**15)

  def program(samples, lanes, **more)
    source = Struct.new(:samples) {
      def frames = samples.shape[1]
      def channels = samples.shape[0]
      def read(from, count) = samples[true, from...(from + count)]
      def close = @closed = true
      def closed? = @closed
    }.new(samples)
    voice = Loomshuttle::Render::Voice.new(key: "a", source: source, lanes: lanes)
    Loomshuttle::Render::Program.new(label: "x", rate_hz: rate, voices: [voice], length_frames: source.frames, **more)
  end

  def heard(played, lane) = (played[lane - 1, true] >> 16).to_a

  it "plays every sample from the frame that it said, none twice, none late, and is then over" do
    at = player.start(program(ramp(1000), [2]))
    from = at - @clock.frame
    played = play(40)
    expect(heard(played, 2)).to eq([0] * from + (1..1000).to_a + [0] * (played.shape[1] - from - 1000))
    expect([player.program, player.late, heard(played, 1).uniq]).to eq([nil, 0, [0]])
  end

  it "has about a second ready before its first block" do
    at = player.start(program(ramp(20_000), [1]))
    ready = (0...20_000).step(block).take_while { |offset| ring.ready?(at + offset) }.size
    expect(ready * block).to be_between(rate * 0.9, rate * 1.1)
  end

  it "goes round without a gap, in loops of any length" do
    [64, 65, 63, 100, 1].each do |length|
      at = player.start(program(ramp(500), [1], loop_frames: 0...length))
      from = at - @clock.frame
      played = heard(play(20), 1)[from..]
      # Behind the line from what sounded before.
      expect(played[100..]).to eq((1..length).to_a.cycle.first(played.size)[100..])
    end
  end

  it "goes elsewhere by a straight line of five milliseconds, without a gap" do
    player.start(program(ramp(30_000), [1]))
    play(10)
    at = player.swap(player.program, position: 20_000)
    rest = at - @clock.frame
    played = heard(play(20), 1)
    before = played[rest - 1]
    after = played[rest + 40, 100]
    expect(after).to eq((20_041..20_140).to_a)
    line = played[rest, 40]
    expect(line).to eq(line.sort)
    expect([line.first > before, line.last <= 20_041]).to eq([true, true])
  end

  it "changes a voice's gain while it plays, and leaves the place where it is" do
    player.start(program(Numo::SFloat.ones(1, 30_000) * 0.5, [1]))
    play(10)
    position = player.position_frames
    player.swap(player.program.with_gains("a" => -6.0205999))
    played = heard(play(20), 1)
    expect([played.first, played.last]).to match([16_384, be_within(1).of(8192)])
    expect(played.each_cons(2).map { |one, other| (other - one).abs }.max).to be < 300
    expect(player.position_frames).to eq(position + 20 * block)
  end

  # With blocks of 1,024 at 48 kHz that is 21 ms.
  it "has a voice's gain heard with the next block but one after it was turned" do
    player.start(program(Numo::SFloat.ones(1, 60_000) * 0.5, [1]))
    play(10)
    heard_after = Array.new(5) do |turn|
      player.swap(player.program.with_gains("a" => -1.0 - turn))
      heard(play(20), 1).then { |played| played.index { |value| value != played.first } }
    end
    expect(heard_after.minmax).to match([be_between(block - 1, block + 1), be_between(block - 1, block + 1)])
  end

  it "plays on to the sample however often it is turned, also where a loop comes round just then (random cases)" do
    random = Random.new(3)
    [nil, 100...300, 0...1_000, 500...541].each do |loop_frames|
      whole = program(ramp(30_000), [1], loop_frames: loop_frames)
      from = player.start(whole) - @clock.frame
      played = [play(5)]
      60.times do
        player.swap(whole)
        played << play(random.rand(1..6)) if random.rand < 0.8
      end
      played << play(20)
      heard = heard(Numo::NArray.hstack(played), 1)[from..]
      wrong = heard.each_index.find { |at| heard[at] != whole.fold(at) + 1 }
      expect([loop_frames, wrong]).to eq([loop_frames, nil])
      player.stop
      play(40)
    end
  end

  it "is silent for blocks that were not rendered in time, counts them, and is then in its place" do
    at = player.start(program(ramp(30_000), [1]))
    from = at - @clock.frame
    play(10)
    play(200, turning: false)
    played = heard(play(40), 1)
    expect(player.late).to be > 0
    place = 210 * block - from
    expect(played.each_with_index.map { |value, i| value.zero? || value == place + i + 1 }.uniq).to eq([true])
    expect(played.last).to eq(place + played.size)
  end

  # A disk that stands still for two seconds: what lies ready sounds on, then there is silence, which is told, and then
  # it is where it would have been.
  it "goes on in its place behind a read that took two seconds, and tells of what was silent" do
    long = program(ramp(60_000), [1])
    source = long.voices.first.source
    at = player.start(long)
    origin = at - @clock.frame
    stalled = false
    allow(source).to receive(:read).and_wrap_original do |read, from, count|
      unless stalled || from < 10_000
        stalled = true
        # The engine plays on meanwhile.
        @during = play(2 * rate / block, turning: false)
      end
      read.call(from, count)
    end
    parts = []
    parts << play(1) until @during || parts.size > 300
    expect(@during).not_to be_nil
    played = heard([*parts[0..-2], parts.last[true, 0...block], @during, play(60)].inject { |one, other| one.concatenate(other, axis: 1) }, 1)
    silent = played.drop(origin).count(&:zero?)
    expect([silent.positive?, silent]).to eq([true, player.late * block])
    expect(played.last(20 * block)).to eq((played.size - origin - 20 * block + 1..played.size - origin).to_a)
  end

  describe "while the device is away" do
    let(:player) { described_class.new(-> { ring }, -> { @clock }, clock_s: -> { @now_s }) }

    before { @now_s = 100.0 }

    # The device's frames count on meanwhile.
    def away(seconds, **other)
      before, @clock = @clock, nil
      (seconds * 10).round.times { (@now_s += 0.1) && player.turn }
      @clock = Loomshuttle::Rings::ClockPage::Reading.new(**before.to_h, frame: before.frame + (seconds * rate).round, session: 2, **other)
      player.turn
    end

    it "goes on where it would be by then, and says how long it was not heard" do
      at = player.start(program(ramp(60_000), [1]))
      origin = at - @clock.frame
      play(20)
      away(2.0)
      place = 20 * block - origin + 2 * rate
      played = heard(play(40), 1)
      expect(played.last(20 * block)).to eq((place + 20 * block + 1..place + 40 * block).to_a)
      expect([player.late, player.told, player.told]).to match([0, /not heard for (1.9|2.0) s.*goes on/, nil])
    end

    it "goes on with other blocks as well, and not at another rate" do
      player.start(program(ramp(60_000), [1]))
      play(20)
      away(1.0, rate_hz: 16_000)
      expect([player.program, player.told]).to match([nil, /stopped: the audio device came back at 16000 Hz/])
    end

    it "is over where it stays away, and begins anew when somebody says so" do
      one = program(ramp(200_000), [1])
      player.start(one)
      play(20)
      player.arm(position: 0, at: 100_000, program: program(ramp(100), [1]))
      away(11.0)
      expect([player.program, player.told, one.voices.first.source.closed?, player.armed]).to match([nil, /stopped: the audio device was away for more than 10 s/, true, nil])
      player.start(program(ramp(60_000), [1]))
      expect([heard(play(20), 1).last.positive?, player.told]).to eq([true, nil])
    end

    it "is over in order where its end came meanwhile" do
      player.start(program(ramp(10_000), [1]))
      play(20)
      away(3.0)
      expect([player.program, heard(play(10), 1).uniq, player.told]).to match([nil, [0], /its end came meanwhile/])
    end
  end

  it "keeps levels only of what lies ready, though nobody asks for them" do
    player.start(program(ramp(60_000), [1], loop_frames: 0...8_000))
    play(3_000)
    expect(player.instance_variable_get(:@ahead).instance_variable_get(:@levels).size).to be < 300
    expect(player.peaks_dbfs.size).to eq(lanes_out)
  end

  it "falls into the engine's blocks again when lost frames have shifted them" do
    at = player.start(program(ramp(30_000), [1]))
    origin = at
    play(10)
    @clock = reading(@clock.frame + 23)
    start = @clock.frame
    played = heard(play(40), 1)
    expect(played.each_with_index.map { |value, i| value.zero? || value == start + i - origin + 1 }.uniq).to eq([true])
    expect(played.last).to eq(start + played.size - origin)
  end

  it "sounds two blocks after it is told to, when it lies ready" do
    ready = player.ready(program(ramp(20_000), [2]), position: 700)
    play(3)
    at = player.go(ready)
    expect(at - @clock.frame).to eq(2 * block)
    expect(heard(play(300), 2)).to eq([0] * (2 * block) + (701..19_772).to_a)
  end

  it "begins later, and whole, where the engine is past its first frame before it lies there" do
    late = [0, 0, 3, 3].map { |blocks| reading(1_000_000 + blocks * block) }
    slow = described_class.new(-> { ring }, -> { (late.size > 1) ? late.shift : @clock })
    ready = player.ready(program(ramp(3_000), [2]))
    @clock = reading(1_000_000 + 3 * block)
    at = slow.go(ready)
    expect(at).to eq(1_000_000 + 5 * block)
    expect(heard(play(80, turning: false), 2)).to eq([0] * (2 * block) + (1..3_000).to_a + [0] * (78 * block - 3_000))
  end

  it "is made ready anew for a device of another shape" do
    ready = player.ready(program(ramp(2_000), [2]))
    @clock = reading(2_000_000).with(block_frames: 32)
    @other = Loomshuttle::Rings::PlayRing.create(File.join(@folder, "other"), lanes: lanes_out, block_frames: 32, rate_hz: rate, slots: 250)
    allow(self).to receive_messages(ring: @other, block: 32)
    player.go(ready)
    expect(heard(play(70), 2).reject(&:zero?)).to eq((1..2_000).to_a)
  end

  it "is elsewhere three blocks after it is told to, also around the ends of a loop, with nothing in between" do
    [[nil, 20_000], [500...20_100, 20_000], [500...20_070, 20_000]].each do |loop_frames, position|
      player.start(program(ramp(30_000), [1], loop_frames: loop_frames))
      play(10)
      at = player.swap(player.program, position: position)
      expect(at - @clock.frame).to eq(3 * block)
      played = heard(play(20), 1)[3 * block + 40, 1000]
      expected = (position + 41..position + 1040).map { |frame| (loop_frames && frame > loop_frames.end) ? frame - loop_frames.size : frame }
      expect(played).to eq(expected)
      player.stop
      play(100)
    end
  end

  describe "a jump that waits" do
    # What is heard from a place on, behind the line of five milliseconds.
    def after(played, from) = played[(from + 40)..]

    it "is made to the frame at the place that was named, however far that is, with the straight line behind it" do
      [[10 * block + 17, 1], [700, 3], [5_000, 2], [16_000, 10]].each do |at, turned|
        from = player.start(program(ramp(30_000), [1])) - @clock.frame
        before = play(turned)
        expect(player.arm(position: 20_000, at: at)).to eq(@clock.frame - turned * block + from + at)
        heard = heard(Numo::NArray.hstack([before, play((at + 3_000) / block)]), 1)
        expect(heard[from, at]).to eq((1..at).to_a)
        expect(after(heard, from + at).first(500)).to eq((20_041..20_540).to_a)
        expect(player.jumped).to eq([@clock.frame - heard.size + from + at, 20_000, nil])
        player.stop
        play(40)
      end
    end

    it "that is decided two blocks before holds, later than one block before as soon as it can" do
      from = player.start(program(ramp(30_000), [1])) - @clock.frame
      played = [play(20)]
      at = 20 * block - from + 2 * block
      player.arm(position: 9_000, at: at)
      played << play(20)
      heard = heard(Numo::NArray.hstack(played), 1)
      expect([heard[from, at] == (1..at).to_a, after(heard, from + at).first(100)]).to eq([true, (9_041..9_140).to_a])
      position = player.position_frames
      expect(player.arm(position: 1_000, at: position + 10)).to eq(@clock.frame + block)
    end

    it "leaves a loop at the place that is reached, and is let go, or forgotten where somebody goes elsewhere" do
      player.start(program(ramp(30_000), [1], loop_frames: 1_000...2_000))
      play(60)
      player.arm(position: 10_000, at: 1_990)
      heard = heard(play(40), 1)
      at = heard.index { |value| value >= 10_041 }
      expect(heard[at - 41]).to eq(1_990)
      expect(player.program.endless?).to be(false)
      player.arm(position: 5, at: 20_000)
      player.let_go
      expect(player.armed).to be_nil
      player.arm(position: 5, at: 20_000)
      player.swap(player.program, position: 12_000)
      expect(player.armed).to be_nil
    end

    it "keeps what was turned meanwhile" do
      player.start(program(Numo::SFloat.ones(1, 30_000) * 0.5, [1]))
      play(10)
      player.arm(position: 20_000, at: 6_000)
      player.swap(player.program.with_gains("a" => -6.0205999))
      expect(player.armed.first).to eq(20_000)
      expect(heard(play(150), 1).last).to be_within(1).of(8_192)
      expect(player.position_frames).to be > 20_000
    end

    it "goes over to another program to the frame, as live as the one that it leaves by then, and closes that one" do
      one, other = program(ramp(30_000), [1]), program(ramp(30_000, scale: 0.5), [1])
      from = player.start(one) - @clock.frame
      before = play(10)
      player.warm(other, 8_000)
      expect(player.arm(position: 8_000, at: 5_003, program: other, tag: "slower")).to eq(@clock.frame - 10 * block + from + 5_003)
      expect([player.armed.first, player.armed_tag]).to eq([8_000, "slower"])
      player.swap(player.program.with_gains("a" => -6.0205999))
      heard = heard(Numo::NArray.hstack([before, play(120)]), 1)
      # Half as loud since it was turned, and half as steep.
      expect(heard[from + 5_002]).to eq(2501)
      expect(after(heard, from + 5_003).first(200)).to eq((8_041..8_240).map { |value| value / 4 })
      expect(player.jumped).to eq([@clock.frame - heard.size + from + 5_003, 8_000, "slower"])
      play(40)
      expect([one, other].map { |each| each.voices.first.source.closed? }).to eq([true, nil])
    end

    it "closes another program that does not come about: let go, overtaken by another jump, stopped, or at the end" do
      others = Array.new(4) { program(ramp(30_000), [1]) }
      player.start(program(ramp(30_000), [1]))
      play(10)
      others.first(3).each { |other| player.arm(position: 0, at: 20_000, program: other) }
      expect(others.map { |other| other.voices.first.source.closed? }).to eq([true, true, nil, nil])
      player.let_go
      player.arm(position: 0, at: 20_000, program: others.last)
      player.stop
      play(40)
      expect([others.map { |other| other.voices.first.source.closed? }.uniq, player.armed]).to eq([[true], nil])
    end

    it "refuses a place that lies behind" do
      player.start(program(ramp(30_000), [1]))
      play(40)
      expect { player.arm(position: 0, at: 100) }.to raise_error(Loomshuttle::BadInput, /still to come/)
    end

    # A second, plain model: the sections joined by hand.
    it "made at random again and again has every sample of the joined sections" do
      random = Random.new(5)
      from = player.start(program(ramp(32_000), [1])) - @clock.frame
      played, expected, begun = [play(5)], [], 0
      40.times do
        at, to = player.position_frames + random.rand(2 * block..4_000), random.rand(0..26_000)
        player.arm(position: to, at: at)
        expected.concat((begun + 1..at).to_a)
        played << play(1) until played.sum { |part| part.shape[1] } > from + expected.size + 2 * block
        begun = to
      end
      heard = heard(Numo::NArray.hstack(played), 1)[from, expected.size]
      wrong = heard.each_index.reject { |index| heard[index] == expected[index] }
      jumps = expected.each_index.select { |index| index.positive? && expected[index] != expected[index - 1] + 1 }
      # The line from one to the other takes five milliseconds.
      expect([jumps.size, wrong.reject { |index| jumps.any? { |jump| index.between?(jump, jump + 40) } }]).to eq([39, []])
    end
  end

  it "goes where somebody says though a loop lies elsewhere, and round it from there on only where that leads into it" do
    player.start(program(ramp(30_000), [1], loop_frames: 1_000...2_000))
    play(60)
    player.swap(player.program, position: 500)
    played = heard(play(60), 1)
    expect(played.index(560)).not_to be_nil
    expect(played.last).to be_between(1_000, 2_000)
  end

  it "clips what goes over full scale and says on which lane" do
    player.start(program(Numo::SFloat.ones(1, 200) * 1.5, [3]))
    play(10)
    expect(player.overs.keys).to eq([3])
  end

  it "refuses a program of another rate, and any without a device" do
    expect { player.start(program(ramp(10), [1]).with(rate_hz: 44_100)) }.to raise_error(Loomshuttle::BadInput, /44100.*device's 8000 Hz/)
    @clock = nil
    expect { player.start(program(ramp(10), [1])) }.to raise_error(Loomshuttle::BadInput, /a device that is running/)
  end

  it "stops by a straight line and closes its files" do
    player.start(whole = program(Numo::SFloat.ones(1, 30_000) * 0.5, [1]))
    play(10)
    player.stop
    played = heard(play(90), 1)
    expect([played.first, played.last, player.program, whole.voices.first.source.closed?]).to eq([16_384, 0, nil, true])
  end
end

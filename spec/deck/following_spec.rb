# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require "timeout"
require_relative "../../boot/deck"

# The deck's own line, its real loops and a ring; the card is a thread of the spec that takes a block when its time has
# come and keeps what it heard.
RSpec.describe "What follows on the deck" do
  around do |example|
    @folder = Dir.mktmpdir
    example.run
  ensure
    # Its loops outlive the example: what they write meanwhile is nobody's.
    FileUtils.rm_rf(@folder)
  end

  let(:block) { 64 }
  let(:rate) { 8_000 }
  let(:ring) { Loomshuttle::Rings::PlayRing.create(File.join(@folder, "play"), lanes: 2, block_frames: block, rate_hz: rate, slots: 250) }
  let(:shared) { Struct.new(:clock, :capture).new(reading(0), nil) }
  let(:player) { [ring, shared].then { |ring, shared| Loomshuttle::Deck::Player.new(-> { ring }, -> { shared.clock }) } }

  before do
    ring
    @heard = []
    @card = Thread.new { turn_the_card }
    @control = Loomshuttle::Deck::Control.new(player, path: File.join(@folder, "deck.sock"), programs: Loomshuttle::Files::Programs.new(@folder), shared: shared, memory_path: File.join(@folder, "memory"))
  end

  after { @card.kill.join }

  def reading(frame)
    Loomshuttle::Rings::ClockPage::Reading.new(frame: frame, session: 1, rate_hz: rate, block_frames: block, lanes_in: 2, lanes_out: 2, mono_s: 0.0)
  end

  def turn_the_card
    began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    loop do
      frame = shared.clock.frame
      bytes = ring.read(frame)
      @heard << (bytes ? Numo::Int32.from_binary(bytes, [block, 2])[true, 0].to_a : [0] * block)
      shared.clock = reading(frame + block)
      ahead = began + (frame + block).fdiv(rate) - Process.clock_gettime(Process::CLOCK_MONOTONIC)
      sleep ahead if ahead.positive?
    end
  end

  # A file whose samples tell which of its frames they are: high bits the song, low bits the frame.
  def song(number, frames, **more)
    name = "#{number}.wav"
    samples = Numo::Int32.new(1, frames).seq(1) + number * 100_000
    Loomshuttle::Files::WavWriter.write(File.join(@folder, name), names: ["x"], rate_hz: rate, frames: frames) do |from, count|
      Numo::SFloat.cast(samples[true, from...(from + count)] * 256.0 / 2**31)
    end
    {"label" => name, "key" => "song/#{number}", "rate_hz" => rate, "voices" => [{"key" => "a", "pieces" => [{"path" => name}], "lanes" => [1]}], **more.transform_keys(&:to_s)}
  end

  def ask(wish) = Loomshuttle::Runtime::LineClient.new(File.join(@folder, "deck.sock"), who: "the deck").ask(wish, seconds: 10)
  def status = ask({do: "status"})
  def wait = Timeout.timeout(20) { loop { (found = yield) ? (return found) : sleep(0.01) } }

  # What was heard, by song and frame: 300_017 is the 17th frame of song 3. The files hold 24 bits.
  def heard = @heard.flatten.map { |sample| (sample / 256.0).round }
  def from(number, frames) = (1..frames).map { |frame| number * 100_000 + frame }

  it "begins by itself without a gap, at the very next sample, however long each one is" do
    last = song(3, 2_001)
    ask({**song(1, 9_001, after: "on", queue: [song(2, 3_000, after: "on"), last]), do: "play"})
    wait { status["playing"].nil? && heard.include?(302_001) }
    sounded = heard.drop_while(&:zero?)
    expect(sounded.first(14_002)).to eq(from(1, 9_001) + from(2, 3_000) + from(3, 2_001))
    expect(status).to include("playing" => nil, "next" => nil)
  end

  it "begins after so many seconds to the sample, and says in how many" do
    ask({**song(1, 4_000, after: "wait", wait_s: 1, queue: [song(2, 1_000)]), do: "play"})
    wait { status["playing"].nil? }
    expect(wait { status["next"] }).to include("key" => "song/2", "ready" => true, "in_s" => be_between(0, 1))
    wait { heard.include?(201_000) }
    expect(heard.drop_while(&:zero?).first(13_000)).to eq(from(1, 4_000) + [0] * 8_000 + from(2, 1_000))
  end

  # A deck that dies: another one with what was kept, and a player that knows nothing. The first one lives on in this
  # process, and goes on writing its own.
  def another_deck(kept)
    File.write(File.join(@folder, "memory-2"), kept)
    [ring, shared].then { |ring, shared| Loomshuttle::Deck::Player.new(-> { ring }, -> { shared.clock }) }.tap do |fresh|
      Loomshuttle::Deck::Control.new(fresh, path: File.join(@folder, "deck-2.sock"), programs: Loomshuttle::Files::Programs.new(@folder), shared: shared, memory_path: File.join(@folder, "memory-2"))
    end
  end

  it "begins when its time has come though the deck died in the pause before it, or while the song before it ended" do
    ask({**song(1, 4_000, after: "wait", wait_s: 3, queue: [song(2, 3_000)]), do: "play"})
    wait { status["playing"].nil? && JSON.parse(File.read(File.join(@folder, "memory")))["waiting"] }
    kept = File.read(File.join(@folder, "memory"))
    ask({do: "stop"})
    another_deck(kept)
    wait { heard.include?(203_000) }
    sounded = heard.drop_while(&:zero?)
    expect(sounded.index(200_001) - sounded.index(104_000)).to eq(24_001)
  end

  it "follows on a song whose end came while the deck was away" do
    ask({**song(1, 4_000, after: "wait", wait_s: 3, queue: [song(2, 3_000)]), do: "play"})
    kept = File.read(File.join(@folder, "memory"))
    wait { heard.include?(104_000) }
    ask({do: "stop"})
    another_deck(kept)
    wait { heard.include?(203_000) }
    sounded = heard.drop_while(&:zero?)
    expect(sounded.index(200_001) - sounded.index(104_000)).to eq(24_001)
  end

  it "lies ready where Go is waited for, and sounds two blocks after it; behind a stop nothing does" do
    ask({**song(1, 3_000, after: "go", queue: [song(2, 3_000, after: "stop"), song(3, 3_000)]), do: "play"})
    expect(wait { status["next"]&.then { |coming| coming if coming["ready"] } }).to include("key" => "song/2", "failed" => nil, "in_s" => nil)
    standing = wait { status.then { |now| now if now.dig("playing", "paused") } }
    expect([standing["playing"], standing["next"]]).to match([include("key" => "song/2", "position_frames" => 0), include("key" => "song/3")])
    before = shared.clock.frame
    begun = ask({do: "pause", on: false})["at_frame"]
    expect(begun - before).to be_between(2 * block, 20 * block)
    wait { heard.include?(203_000) && status["playing"].nil? }
    expect(status["next"]).to be_nil
  end

  it "is as the list has it by the time of Go, while it stands ready and in the pause before it begins" do
    ask({**song(1, 3_000, after: "go", queue: [song(2, 3_000, after: "stop")]), do: "play"})
    wait { status.dig("playing", "paused") }
    ask({do: "mute", keys: ["b"]})
    slower = song(4, 5_000, after: "go").merge("key" => "song/2")
    expect { ask({do: "queue", queue: [], behind: "song/1"}) }.to raise_error(Loomshuttle::BadInput, /behind/)
    ask({do: "queue", queue: [], standing: slower, behind: "song/2"})
    expect(status["playing"]).to include("key" => "song/2", "position_frames" => 0, "length_frames" => 5_000, "muted" => ["b"])
    ask({do: "pause", on: false})
    wait { heard.include?(405_000) }
    expect(heard.select(&:positive?).last(5_000)).to eq(from(4, 5_000))

    # What plays already is played as it began.
    ask({**song(5, 2_000, after: "wait", wait_s: 2, queue: [song(6, 500)]), do: "play"})
    wait { status["playing"].nil? && status.dig("next", "in_s") }
    ask({do: "queue", queue: [song(7, 500)], behind: nil})
    wait { heard.include?(700_500) }
    expect(heard.any? { |sample| sample.between?(600_000, 600_500) }).to be(false)
  end

  it "is said to be missing before it is wanted; the song that plays goes on to its end" do
    lost = song(2, 1_000).tap { File.delete(File.join(@folder, "2.wav")) }
    ask({**song(1, 12_000, after: "on", queue: [lost]), do: "play"})
    expect(wait { status["next"]&.then { |coming| coming if coming["failed"] } }).to include("ready" => false, "failed" => include("2.wav"))
    expect(status["playing"]["position_frames"]).to be < 12_000
    wait { status["playing"].nil? }
    expect(heard.drop_while(&:zero?).first(12_000)).to eq(from(1, 12_000))
  end

  it "does not begin by itself when its file comes back long behind its moment; while it is waited for no ping is sent" do
    late = song(2, 1_000)
    File.rename(File.join(@folder, "2.wav"), File.join(@folder, "away.wav"))
    ask({**song(1, 2_000, after: "wait", wait_s: 1, queue: [late]), do: "play"})
    wait { status["playing"].nil? && status.dig("next", "in_s") }
    expect { ask({do: "ping", lanes: [1], level_dbfs: -60}) }.to raise_error(Loomshuttle::BadInput, /playing: "2.wav".*about to begin/)
    wait { status["next"].then { |coming| coming["failed"] && coming["in_s"].nil? } }
    File.rename(File.join(@folder, "away.wav"), File.join(@folder, "2.wav"))
    wait { status.dig("next", "ready") }
    expect([status["playing"], heard.include?(200_001)]).to eq([nil, false])
  end

  it "is another one when the list is changed, and is gone after a stop by hand" do
    ask({**song(1, 60_000, after: "on", queue: [song(2, 1_000)]), do: "play"})
    ask({do: "queue", queue: [song(3, 1_000)]})
    expect(wait { status["next"]&.then { |coming| coming if coming["ready"] } }["key"]).to eq("song/3")
    ask({do: "stop"})
    wait { status["playing"].nil? }
    expect(status["next"]).to be_nil
    expect { ask({do: "queue", queue: []}) }.to raise_error(Loomshuttle::BadInput, /playing/)
  end

  it "is silent two blocks after it is hushed, within one block, and comes back in time" do
    begun = ask({**song(1, 60_000), do: "play"})["at_frame"]
    wait { heard.include?(100_900) }
    asked = shared.clock.frame
    silent = ask({do: "hush", on: true})["at_frame"]
    expect(silent - asked).to be_between(3 * block, 20 * block)
    wait { shared.clock.frame > silent + 40 * block }
    expect(heard[silent, 30 * block].uniq).to eq([0])
    fall = heard[silent - block, block]
    expect(fall).to eq(fall.sort.reverse)
    expect(status["playing"]).to include("hushed" => true, "key" => "song/1")
    back = ask({do: "hush", on: false})["at_frame"]
    wait { shared.clock.frame > back + 20 * block }
    expect(heard[back + 8, 500]).to eq(from(1, 60_000)[back + 8 - begun, 500])
    expect(status["playing"]["hushed"]).to be(false)
  end

  it "grows softer until it is over, and then nothing follows" do
    ask({**song(1, 60_000, after: "on", queue: [song(2, 1_000)]), do: "play"})
    wait { heard.include?(100_900) }
    over = ask({do: "fade", seconds: 0.5})["at_frame"]
    wait { status["playing"].nil? }
    wait { shared.clock.frame > over + 20 * block }
    fall = heard[over - 4_000, 4_000]
    expect([fall.each_cons(2).count { |one, other| other > one + 1 }, heard[over, 1_000].uniq]).to eq([0, [0]])
    expect(status["next"]).to be_nil
  end

  it "plays an order, its jumps wait for the order's own bars, and stops at one" do
    tempo = {"meters" => [{"bar" => 1, "meter" => "4/4"}], "tempi" => [{"bar" => 1, "bpm" => 240}]}
    order = {ranges: [[16_000, 24_000], [0, 8_000], [16_000, 24_000]], seam_frames: 0}
    ask({**song(1, 32_000, order: order, bars: {tempo: tempo, at: 0}), do: "play"})
    expect(status["playing"]).to include("length_frames" => 24_000)
    wait { heard.include?(100_900) }
    stopped = ask({do: "jump", stop: true, at: "bar"})["at_frame"]
    expect(status["playing"]["armed"]&.first).to be_nil
    wait { status["playing"].nil? && shared.clock.frame > stopped + 20 * block }
    sounded = heard.drop_while(&:zero?)
    bars = sounded.index { |frame| frame.zero? }.fdiv(8_000)
    whole = [*from(1, 32_000)[16_000...24_000], *from(1, 32_000)[0...8_000], *from(1, 32_000)[16_000...24_000]]
    expect(bars).to be_within(0.01).of(bars.round)
    expect(sounded.first(bars.round * 8_000)).to eq(whole.first(bars.round * 8_000))
  end
end

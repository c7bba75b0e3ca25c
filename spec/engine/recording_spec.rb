# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "support/wire_log"
require "support/wav_files"
require_relative "../../boot/engine"
require_relative "../../boot/server"

# The real engine and deck beside the real stand-in, as processes.
RSpec.describe "Recording and playing back" do
  around do |example|
    Dir.mktmpdir do |folder|
      show = File.join(folder, "show.loom.json")
      File.write(show, Loomshuttle::Exchange::ShowFile.write(start_show))
      @installation = Installation.new(folder, show: show).start("standin", "engine")
      example.run
    ensure
      @installation&.stop
    end
  end

  # Card lanes 17-24 carry channels 1-8 behind the feed select, so that what a swung
  # channel plays can be recorded again.
  let(:start_show) do
    outs = (1..8).map { |n| edit("connect", slot: "desk/output/#{n}", from: "desk/channel/#{n}", tap: "in") }
    show(*outs, edit("connect", slot: "desk/card-send/17", from: "desk/output/1"))
  end

  let(:takes) { File.join(@installation.folder, "takes") }

  def status = @installation.engine(do: "status")
  def running = @installation.wait("the device") { status.dig("device", "state") == "running" }
  def recorded_frames = status.dig("recording", "frames") || 0
  def more(frames) = recorded_frames.then { |now| @installation.wait("more frames") { recorded_frames > now + frames } }
  def folder(number) = File.join(takes, format("night/take-%03d", number))
  def log(number) = Loomshuttle::Engine::Journal.read(folder(number))

  def begin_take(lanes, **more)
    running
    tracks = lanes.map { |lane| {key: "rec/track/#{lane}", name: "Lane #{lane}", file: format("%02d Lane %d", lane, lane), lanes: [lane]} }
    @installation.engine(do: "record", plan: {uid: SecureRandom.uuid, number: 1, show: "night", sample_rate_hz: 48_000, margin_bytes: 1_000_000, tracks: tracks, **more})
  end

  def record(lanes, frames)
    begin_take(lanes)
    @installation.wait("the frames") { recorded_frames >= frames }
    yield if block_given?
    @installation.engine(do: "stop")
  end

  def samples(number, lane, part = 1)
    name = (part == 1) ? format("%02d Lane %d.wav", lane, lane) : format("%02d Lane %d - part %d.wav", lane, lane, part)
    File.open(File.join(folder(number), name), "rb") do |io|
      Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| reader.read_s32(0, reader.frames)[true, 0] }
    end
  end

  def voice(number, from, to) = {key: "v#{from}", lanes: [to], pieces: [{path: format("takes/night/take-%03d/%02d Lane %d.wav", number, from, from)}]}

  it "records 12 tracks for five seconds, each equal sample for sample to what the stand-in put on its lane" do
    last = record((1..12).to_a, 5 * 48_000)
    expect(last).to include("lost_blocks" => 0, "frames" => be >= 5 * 48_000)
    @installation.kill("standin", "TERM")
    wire = WireLog.read(@installation.wire_log)
    starts = (1..12).map { |lane| WireLog.places(wire[lane - 1, true], samples(1, lane)) }.inject(:&)
    expect(starts).not_to be_empty
    expect(starts.map { |at| at % 1024 }.uniq).to eq([0])
    expect((1..12).map { |lane| samples(1, lane).size }.uniq).to eq([last["frames"]])
  end

  it "gives a take back on the channel that it came from when the desk is swung" do
    record([1, 2, 5], 48_000)
    control = Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(@installation.services.ports["osc"]))
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(start_show).edit.apply(start_show)
    control.send_changes(start_show.patch, swung.patch)
    expect(control.has?(swung.patch)).to be(true)
    record([17, 18, 21], 3 * 48_000) do
      @installation.deck(do: "play", label: "Take 1", rate_hz: 48_000, voices: [1, 2, 5].map { |lane| voice(1, lane, lane) })
      @installation.wait("the end of the playing") { @installation.deck(do: "status")["playing"].nil? }
      more(48_000)
    end
    starts = {1 => 17, 2 => 18, 5 => 21}.map { |from, to| WireLog.places(samples(2, to), samples(1, from)) }.inject(:&)
    expect(starts.size).to eq(1)
  end

  describe "when a part dies in the middle of a take" do
    it "desk killed: files whole at once, and it goes on in new stretches when the desk is back" do
      begin_take([1, 2])
      @installation.wait("the frames") { recorded_frames > 48_000 }
      @installation.kill("standin")
      @installation.wait("word of it") { status.dig("recording", "state") == "waiting" }
      @installation.wait("whole files") { log(1).open_stretches.empty? }
      @installation.start_process("standin")
      @installation.wait("the take to go on") { status.dig("recording", "state") == "recording" }
      more(24_000)
      @installation.engine(do: "stop")
      parts = log(1).stretches.select { |stretch| stretch.track == "rec/track/1" }
      expect(parts.map(&:frames)).to eq([samples(1, 1).size, samples(1, 1, 2).size])
      expect(log(1)).to have_attributes(state: "closed", breaks: [include(why: /the device went away/, gap_frames: parts[1].from_frame - parts[0].to_frame)])
    end

    it "engine killed: at most the last second is lost, and it goes on by itself when started again" do
      begin_take([3])
      whole = @installation.wait("a second on disk") { status.dig("recording", "whole_frames").then { |frames| frames if frames >= 48_000 } }
      @installation.kill("engine")
      killed_at = samples(1, 3).size
      expect(killed_at).to be >= whole
      @installation.start_process("engine")
      @installation.wait("the take to go on") { status.dig("recording", "state") == "recording" }
      more(24_000)
      expect(status["faults"].map { |fault| fault["words"] }).to include(/take 1 was broken off when the engine ended; it goes on/)
      @installation.engine(do: "stop")
      first, second = log(1).stretches
      expect([first.frames, second.frames]).to eq([samples(1, 3).size, samples(1, 3, 2).size])
      expect(first.frames).to be >= killed_at
      # What was recorded before and after lies where it sounded.
      gap = second.from_frame - first.to_frame
      expect(log(1).breaks.first[:gap_frames]).to eq(gap)
      expect(gap).to be > 0
    end

    it "deck killed: the take does not notice, the lanes go silent, and it goes on at the right place" do
      record([1], 48_000 * 2)
      control = Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(@installation.services.ports["osc"]))
      swung = Loomshuttle::Soundcheck::Swing.to_recorder(start_show).edit.apply(start_show)
      control.send_changes(start_show.patch, swung.patch)
      begin_take([17])
      @installation.deck(do: "play", label: "x", rate_hz: 48_000, voices: [voice(1, 1, 1)], loop: [0])
      more(48_000)
      played = Loomshuttle::Runtime::LineClient.new(@installation.services.deck_socket, who: "deck").ask(do: "status")["playing"]
      @installation.kill("deck")
      more(3 * 48_000)
      @installation.start_process("deck")
      @installation.wait("the deck to go on") { @installation.deck(do: "status")["playing"] }
      more(2 * 48_000)
      again = @installation.deck(do: "status")["playing"]
      last = @installation.engine(do: "stop")
      expect([played["label"], again["label"], last["lost_frames"], log(1).breaks]).to eq(["x", "x", 0, []])
      heard = samples(2, 17)
      loop_of = samples(1, 1)
      # Before and after the gap it lies at places that are a whole number of rounds apart.
      places = [[48_000, 60_000], [heard.size - 60_000, heard.size - 48_000]].map { |from, to| place_in(loop_of, heard[from...to], from) }
      expect(places.uniq.size).to eq(1)
    end

    # @return [Integer] where in the loop a piece lies, less where it was recorded
    def place_in(loop_of, piece, at)
      rounds = loop_of.concatenate(loop_of)
      found = WireLog.places(rounds, piece).first
      expect(found).not_to be_nil
      (found - at) % loop_of.size
    end

    it "desk standing still for twelve seconds: said within a second, and the take goes on" do
      begin_take([1])
      more(24_000)
      Process.kill("STOP", @installation.pid("standin"))
      began_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      silent = @installation.wait("word of it") { status["device"].then { |device| device if device["state"] != "running" } }
      expect(silent["state"]).to eq("silent")
      expect(silent["silent_s"]).to be <= Process.clock_gettime(Process::CLOCK_MONOTONIC) - began_s + 0.5
      @installation.wait("twelve seconds") { Process.clock_gettime(Process::CLOCK_MONOTONIC) - began_s > 12 }
      Process.kill("CONT", @installation.pid("standin"))
      @installation.wait("the take to go on") { status.values_at("device", "recording").map { |one| one["state"] } == %w[running recording] }
      more(24_000)
      @installation.engine(do: "stop")
      log = log(1)
      expect(log.stretches.map(&:frames)).to eq([samples(1, 1).size, samples(1, 1, 2).size])
      expect(log.breaks.size).to eq(1)
      expect(log.frames / 48_000.0).to be_within(3).of(Process.clock_gettime(Process::CLOCK_MONOTONIC) - began_s + 0.5)
    end

    it "engine standing still while Record is pressed: it does not begin what its caller gave up" do
      running
      Process.kill("STOP", @installation.pid("engine"))
      client = Loomshuttle::Runtime::LineClient.new(@installation.services.engine_socket, who: "the audio engine")
      plan = {uid: "given-up", number: 1, show: "night", sample_rate_hz: 48_000, tracks: [{key: "a", name: "a", file: "a", lanes: [1]}]}
      expect { client.ask({do: "record", plan: plan}, seconds: 1) }.to raise_error(Loomshuttle::Runtime::Gone, /no answer in 1 s/)
      Process.kill("CONT", @installation.pid("engine"))
      running
      expect([status["recording"], Dir.exist?(folder(1))]).to eq([nil, false])
      expect(begin_take([1])).to include("number" => 1)
      @installation.engine(do: "stop")
    end
  end

  it "refuses to play what it cannot, says why, and leaves no file open" do
    running
    File.binwrite(File.join(takes, "slow.wav"), WavFiles.pcm16([1, 2, 3], rate: 44_100))
    File.binwrite(File.join(takes, "good.wav"), WavFiles.pcm16([1, 2, 3]))
    good = {key: "g", lanes: [1], pieces: [{path: "takes/good.wav"}]}
    @installation.deck(do: "status")
    files = -> { Dir["/proc/#{@installation.pid("deck")}/fd/*"].size }
    before = files.call
    {{path: "../../etc/passwd"} => /inside its own folder/, {path: "takes/slow.wav"} => /slow\.wav.*44100 Hz.*48000 Hz/, {path: "takes/good.wav", channels: [2]} => /channel.*1 to 1/,
     {path: "takes/nowhere.wav"} => /still there/}.each do |piece, words|
      expect { @installation.deck(do: "play", label: "x", rate_hz: 48_000, voices: [good, {key: "x", lanes: [2], pieces: [piece]}]) }.to raise_error(Loomshuttle::BadInput, words)
    end
    # What the refused plays opened: all but the ring, and the last question's socket when its thread has had its turn.
    @installation.wait("the files closed") { files.call <= before + 1 }
    expect { @installation.deck(do: "locate", frame: 1) }.to raise_error(Loomshuttle::BadInput, /something that plays/)
  end

  it "measures the way out and back through a loop, and finds nothing where there is none" do
    running
    control = Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(@installation.services.ports["osc"]))
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(start_show).edit.apply(start_show)
    control.send_changes(start_show.patch, swung.patch)
    found = @installation.deck(do: "measure", lane_out: 1, lane_in: 17)
    expect(found).to include("frames" => be_between(1, 24_000), "height_dbfs" => -6.0)
    expect(@installation.deck(do: "measure", lane_out: 2, lane_in: 18)["frames"] % 1024).to eq(found["frames"] % 1024)
    # One right behind the other, over and over: what the last one played does not take part.
    8.times { expect(@installation.deck(do: "measure", lane_out: 1, lane_in: 17)).to eq(found) }
    expect { @installation.deck(do: "measure", lane_out: 1, lane_in: 32) }.to raise_error(Loomshuttle::BadInput, /nothing came back/)
  end
end

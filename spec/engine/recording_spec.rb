# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "support/wire_log"
require "support/wav_files"
require_relative "../../boot/engine"
require_relative "../../boot/server"

# The real engine beside the real stand-in, as processes.
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

  def running = @installation.wait("the device") { @installation.engine(do: "status").dig("device", "state") == "running" }
  def recorded_frames = @installation.engine(do: "status").dig("recording", "frames") || 0

  def take(number, lanes)
    {number: number, id: number, sample_rate_hz: 48_000, time_reference_samples: 3_456_000, date: "2026-11-24", time: "20:00:00",
     files: lanes.map { |lane|
       {file: Loomshuttle::Capture::FileName.of(lane, "Lane #{lane}"),
        name: "Lane #{lane}",
        track: "rec/track/#{lane}",
        lane: lane}
     }}
  end

  def record(number, lanes, frames)
    running
    @installation.engine(do: "record", folder: "night/take-#{number}", take: take(number, lanes))
    @installation.wait("the frames") { recorded_frames >= frames }
    yield if block_given?
    @installation.engine(do: "stop")
  end

  def samples(number, lane)
    File.open(File.join(takes, "night/take-#{number}", Loomshuttle::Capture::FileName.of(lane, "Lane #{lane}")), "rb") do |io|
      Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| reader.read_s32(0, reader.frames)[true, 0] }
    end
  end

  it "records 12 tracks for five seconds, each equal sample for sample to what the stand-in put on its lane" do
    record(1, (1..12).to_a, 5 * 48_000)
    status = @installation.engine(do: "status")["last_take"]
    expect(status).to include("lost_blocks" => 0, "frames" => be >= 5 * 48_000)
    @installation.kill("standin", "TERM")
    wire = WireLog.read(@installation.wire_log)
    starts = (1..12).map { |lane| WireLog.places(wire[lane - 1, true], samples(1, lane)) }.inject(:&)
    expect(starts).not_to be_empty
    expect(starts.map { |at| at % 1024 }.uniq).to eq([0])
    expect((1..12).map { |lane| samples(1, lane).size }.uniq).to eq([status["frames"]])
  end

  it "gives a take back on the channel that it came from when the desk is swung" do
    record(1, [1, 2, 5], 48_000)
    control = Loomshuttle::Server::Links::DeskLink.new(port: @installation.services.ports["osc"])
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(start_show).edit.apply(start_show)
    control.send_changes(start_show.patch, swung.patch)
    expect(control.has?(swung.patch)).to be(true)
    record(2, [17, 18, 21], 3 * 48_000) do
      files = [1, 2, 5].map { |lane|
        {path: "takes/night/take-1/#{Loomshuttle::Capture::FileName.of(lane, "Lane #{lane}")}",
         channel: 1,
         lane: lane}
      }
      @installation.engine(do: "play", label: "Take 1", files: files)
      @installation.wait("the end of the playing") { @installation.engine(do: "status")["playing"].nil? }
      now = recorded_frames
      @installation.wait("what is still on its way") { recorded_frames > now + 24_000 }
    end
    starts = {1 => 17, 2 => 18, 5 => 21}.map { |from, to| WireLog.places(samples(2, to), samples(1, from)) }.inject(:&)
    expect(starts.size).to eq(1)
  end

  it "closes the files whole when the desk is killed, says so, and finds the desk again" do
    running
    @installation.engine(do: "record", folder: "night/take-1", take: take(1, [1, 2]))
    @installation.wait("the frames") { recorded_frames > 48_000 }
    @installation.kill("standin")
    ended = @installation.wait("the end of the take") { @installation.engine(do: "status")["last_take"] }
    expect(ended["reason"]).to match(/the desk went away .*whole up to there/)
    expect([samples(1, 1).size, samples(1, 2).size].uniq).to eq([ended["frames"]])
    @installation.start_process("standin")
    running
  end

  it "leaves whole files after the engine itself is killed, and finishes them at its next start" do
    running
    @installation.engine(do: "record", folder: "night/take-1", take: take(1, [3]))
    whole_frames = @installation.wait("a second on disk") {
      @installation.engine(do: "status")["recording"]["whole_frames"].then { |frames|
        if frames >= 48_000
          frames
        end
      }
    }
    @installation.kill("engine")
    expect(samples(1, 3).size).to be >= whole_frames
    @installation.start_process("engine")
    @installation.instance_variable_set(:@line, nil)
    running
    expect(Loomshuttle::Engine::Journal.read(File.join(takes, "night/take-1"))).to include("state" => "closed", "reason" => /recovered/, "frames" => samples(1, 3).size)
  end

  it "refuses what it cannot do, and says why" do
    running
    expect { @installation.engine(do: "record", folder: "x", take: take(1, [33])) }.to raise_error(/lane.*33.*1 to 32/)
    expect {
      @installation.engine(do: "play",
        label: "x",
        files: [{path: "../../etc/passwd", channel: 1, lane: 1}])
    }.to raise_error(/inside the data folder/)
    File.binwrite(File.join(takes, "slow.wav"), WavFiles.pcm16([1, 2, 3], rate: 44_100))
    expect { @installation.engine(do: "play", label: "x", files: [{path: "takes/slow.wav", channel: 1, lane: 1}]) }.to raise_error(/rate_hz.*44100.*device's 48000 Hz/)
    expect { @installation.engine(do: "play", label: "x", files: [{path: "takes/slow.wav", channel: 2, lane: 1}]) }.to raise_error(/channel.*1 to 1/)
    expect { @installation.engine(do: "dance") }.to raise_error(/status, ribbon, record/)
    expect(@installation.engine(do: "status").dig("device", "state")).to eq("running")
  end
end

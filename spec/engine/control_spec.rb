# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require_relative "../../boot/engine"
require "support/steady_device"

# Runner and control socket in one process, over a device in memory.
RSpec.describe Loomshuttle::Engine::ControlSocket do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:device) { SteadyDevice.new }
  let(:runner) { Loomshuttle::Engine::Runner.new(device, takes_folder: File.join(@folder, "takes")) }
  let(:port) { Addrinfo.tcp("127.0.0.1", 0).bind { |socket| socket.local_address.ip_port } }
  let(:line) { TCPSocket.new("127.0.0.1", port) }

  before do
    described_class.new(runner, port: port, data_folder: @folder)
    @loop = Thread.new { runner.run }
    wait { status["device"]["state"] == "running" }
  end

  after { @loop.kill.join }

  def ask(request) = line.write("#{request.is_a?(String) ? request : JSON.generate(request)}\n") && JSON.parse(line.gets)
  def status = ask({do: "status"}).fetch("ok")

  def wait
    Timeout.timeout(60) { Thread.pass until yield }
  end

  def take(number, lanes)
    {number: number, id: number, sample_rate_hz: 48_000, time_reference_samples: 0, date: "2026-11-25", time: "20:00:00",
     files: lanes.map { |lane| {file: "#{lane}.wav", name: "Lane #{lane}", lane: lane} }}
  end

  def record(number, lanes) = ask({do: "record", folder: "night/take-#{number}", take: take(number, lanes)})

  def samples(number, lane)
    File.open(File.join(@folder, "takes/night/take-#{number}/#{lane}.wav"), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| reader.read_s32(0, reader.frames)[true, 0] >> 8 } }
  end

  it "records what the device gives, every lane from the same frame, none missing" do
    expect(record(1, [1, 3])).to eq("ok" => true)
    wait { status["recording"]["frames"] > 1000 }
    expect(ask({do: "stop"})["ok"]).to include("number" => 1, "lost_blocks" => 0)
    one, three = samples(1, 1), samples(1, 3)
    expect(one.to_a.each_cons(2).map { |a, b| b - a }.uniq).to eq([8])
    expect((three - one).to_a.uniq).to eq([2])
    expect(status["last_take"]).to include("frames" => one.size, "lost_blocks" => 0, "reason" => "stopped by hand")
  end

  it "holds one take at a time, and none over another" do
    record(1, [1])
    expect(record(2, [1])["error"]).to include("field" => "capture", "value" => "take 1", "allowed" => "stop the running take first")
    ask({do: "stop"})
    expect(record(1, [1])["error"]).to include("field" => "take", "allowed" => "a take that is not there yet")
    expect(status["recording"]).to be_nil
    expect(record(3, [5])["error"]).to include("field" => "lane", "value" => 5, "allowed" => "1 to 4")
    expect(Dir.exist?(File.join(@folder, "takes/night/take-3"))).to be(false)
  end

  it "plays files and a click on their lanes, says where it is, and stops" do
    Dir.mkdir(File.join(@folder, "songs"))
    File.binwrite(File.join(@folder, "songs/organ.wav"), WavFiles.pcm16([1000] * 96_000))
    request = {do: "play", label: "Organ", repeat: true, files: [{path: "songs/organ.wav", channel: 1, lane: 2}],
               click: {bpm: 120, beats_per_bar: 4, rate_hz: 48_000, lane: 4, frames: 48_000}}
    expect(ask(request)).to eq("ok" => true)
    wait { status.dig("playing", "position_frames").to_i > 0 }
    expect(status["playing"]).to include("label" => "Organ", "length_frames" => 96_000, "repeat" => true)
    wait { (heard = Numo::Int32.from_binary(device.played.last, [64, 4])) && heard[true, 1].to_a.uniq == [1000 << 16] && heard[true, 0].to_a.uniq == [0] }
    expect(device.played.any? { |bytes| Numo::Int32.from_binary(bytes, [64, 4])[true, 3].abs.max > 0 }).to be(true)
    ask({do: "stop_playing"})
    expect(status["playing"]).to be_nil
  end

  it "closes the take whole when the device goes away, and finds it again" do
    record(1, [2])
    wait { status["recording"]["frames"] > 200 }
    device.unplug
    wait { status["last_take"] }
    expect(status["last_take"]["reason"]).to eq("the desk went away (unplugged); the files are whole up to there")
    expect(samples(1, 2).size).to eq(status["last_take"]["frames"])
    wait { status["device"]["state"] == "running" }
    expect(record(2, [2])).to eq("ok" => true)
    ask({do: "stop"})
  end

  it "ends a take by itself when the disk refuses, with what the disk said" do
    record(1, [1])
    allow(runner.recorder).to receive(:fault).and_return("No space left on device")
    wait { status["last_take"] }
    expect(status["last_take"]["reason"]).to eq("the disk refused to write: No space left on device")
  end

  it "sends meters and status to whoever subscribes, and answers others meanwhile" do
    other = TCPSocket.new("127.0.0.1", port)
    other.write("{\"do\": \"subscribe\"}\n")
    frames = Array.new(3) { JSON.parse(other.gets) }
    expect(frames.first).to eq("ok" => true)
    expect(frames.last["meters"].keys).to eq(%w[peak_dbfs rms_dbfs clips])
    expect(frames.last["status"]["device"]).to include("name" => "steady", "lanes" => 4)
    expect(ask({do: "ribbon"})).to eq("ok" => [])
    other.close
    expect(status["device"]["state"]).to eq("running")
  end

  {"what is no JSON" => ["dance", "request", /JSON line/], "nothing to do" => [{}, "do", /status, ribbon, record/],
   "an unknown wish" => [{do: "dance"}, "do", /status, ribbon, record/], "a take without its files" => [{do: "record", folder: "x", take: {}}, "request", /JSON line/],
   "a path out of the data folder" => [{do: "play", label: "x", files: [{path: "../x", channel: 1, lane: 1}]}, "path", /inside the data folder/],
   "a file that is gone" => [{do: "play", label: "x", files: [{path: "takes/x.wav", channel: 1, lane: 1}]}, "file", /still there/],
   "a list" => ["[1, 2]", "request", /JSON line/]}.each do |what, (request, field, allowed)|
    it "refuses #{what}, says why, and goes on" do
      expect(ask(request)["error"]).to include("field" => field, "allowed" => allowed)
      expect(status["device"]["state"]).to eq("running")
    end
  end
end

RSpec.describe Loomshuttle::Engine::Journal do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:take) {
    {"state" => "recording", "number" => 1, "sample_rate_hz" => 48_000, "time_reference_samples" => 0, "date" => "", "time" => "",
     "files" => [{"file" => "a.wav", "name" => "A", "lane" => 1}]}
  }

  it "finishes what was left open, to the last whole frame, once" do
    folder = File.join(@folder, "night/take-1")
    FileUtils.mkdir_p(folder)
    file = Loomshuttle::Engine::TakeFile.new(folder, take["files"][0], take)
    file.write("\1\2\3" * 100)
    File.open(File.join(folder, "a.wav"), "ab") { |io| io.write("\1\2") }
    described_class.write(folder, take)
    expect(described_class.recover(@folder)).to eq([folder])
    expect(described_class.read(folder)).to include("state" => "closed", "frames" => 100, "reason" => /recovered/)
    read = File.open(File.join(folder, "a.wav"), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| [reader.frames, reader.read_s32(99, 1)[0, 0] >> 8] } }
    expect(read).to eq([100, 0x030201])
    expect(described_class.recover(@folder)).to eq([])
  end

  it "says nothing of a folder without one, or with a broken one" do
    File.write(File.join(@folder, "take.json"), "{\"state\": \"rec")
    expect([described_class.read(@folder), described_class.read("/nowhere"), described_class.recover(@folder)]).to eq([nil, nil, []])
  end
end

# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/engine"
require "support/steady_device"

# Runner, control and rings in one process, over a device in memory.
#
#   engine = EngineInProcess.new(folder).start
#   engine.record([1, 3]); engine.wait { engine.status["recording"]["frames"] > 1000 }; engine.stop
class EngineInProcess
  Engine = Loomshuttle::Engine
  attr_reader :device, :runner, :folder, :places

  def initialize(folder, device: SteadyDevice.new, more_places: [])
    @folder = folder
    @device = device
    @more_places = more_places
    @number = 0
  end

  def takes = File.join(folder, "takes")
  def socket = File.join(folder, "run/engine.sock")

  # A new engine on what is there, as after a crash.
  def start
    FileUtils.mkdir_p([takes, File.join(folder, "run")])
    @places = Engine::Places.new(takes, more: @more_places, mounts: -> { "" })
    @runner = Engine::Runner.new(device, takes_folder: takes, rings: Engine::RingFolder.new(File.join(folder, "rings"), free_bytes: ->(_) { 0 }), places: @places)
    Engine::Control.new(@runner, path: socket, takes_folder: takes, places: @places,
      devices: Engine::Devices.new(standin_path: "/nowhere", chosen_path: File.join(folder, "run/device.json")))
    @loop = Thread.new { @runner.run }
    self
  end

  # Ends its block loop, as far as a thread can be ended; its writers go on until their take ends.
  def halt
    @loop.kill.join
  end

  def running = wait { status["device"]["state"] == "running" }
  def ask(request) = Loomshuttle::Runtime::LineClient.new(socket, who: "the engine").ask(request, seconds: 60)
  def status = ask({do: "status"})
  def recording = status["recording"]

  # @param lanes [Array<Integer, Array>] a pair of lanes makes a stereo track
  def plan(lanes, **more)
    @number += 1
    tracks = lanes.map do |lane|
      name = "Lane #{Array(lane).join("+")}"
      {key: "t#{Array(lane).first}", name: name, file: format("%02d %s", Array(lane).first, name), lanes: Array(lane), sides: Array(lane).map { |one| {track: "t#{one}", name: "Lane #{one}"} }}
    end
    {uid: "take-#{@number}-#{Process.pid}", number: 1, show: "night", sample_rate_hz: device.format.rate_hz, margin_bytes: 1_000_000, tracks: tracks, **more}
  end

  def record(lanes, **more) = ask({do: "record", plan: plan(lanes, **more)})
  def stop = ask({do: "stop"})
  def folder_of(number) = File.join(takes, format("night/take-%03d", number))
  def log(number = 1) = Engine::Journal.read(folder_of(number))

  # @return [Numo::Int32] in 24-bit steps, [frames, channels]
  def samples(file, number = 1)
    File.open(File.join(folder_of(number), file), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| reader.read_s32(0, reader.frames) >> 8 } }
  end

  def wait(seconds: 60)
    Timeout.timeout(seconds) do
      loop do
        found = yield
        return found if found

        sleep 0.005
      end
    end
  end
end

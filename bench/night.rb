# frozen_string_literal: true

# An hour of 32 lanes with an arm change a second, through the engine as fast as it goes; then files,
# journal and the database's rows are held against each other and against what the device gave:
#
#   bundle exec ruby bench/night.rb [seconds of sound]
#
# LOOMSHUTTLE_BENCH names the folder; an hour is up to 17 GB.
$LOAD_PATH.unshift(File.expand_path("../spec", __dir__))
require "rspec/core"
require "tmpdir"
require "support/engine_in_process"
require "support/installation"

module Bench
  # Gives no more than it is told to, so that an hour in minutes does not outrun the disk.
  class Metered < SteadyDevice
    def initialize(**)
      super
      @wanted = 0
    end

    def give_to(frame) = @wanted = frame

    def read(buffer, wait_s)
      return sleep([wait_s, 0.002].min) && nil if @frame >= @wanted

      super
    end
  end

  module_function

  LANES = 32
  FORMAT = Loomshuttle::Engine::Device::Format.new(rate_hz: 48_000, lanes_in: LANES, lanes_out: LANES, block_frames: 1024)

  def record(folder, seconds)
    device = Metered.new(format: FORMAT, pace_s: 0)
    engine = EngineInProcess.new(folder, device: device).start
    engine.running
    engine.record((1..LANES).to_a, show_id: 1, carry_on: false)
    random = Random.new(11)
    on = Array.new(LANES, true)
    (1..seconds).each do |second|
      device.give_to(second * 48_000)
      engine.wait { engine.runner.recorder.take.frames >= (second - 1) * 48_000 && engine.runner.recorder.take.whole_frames > (second - 5) * 48_000 }
      track = random.rand(LANES)
      on[track] = !on[track]
      engine.ask({do: "arm", tracks: ["t#{track + 1}"], on: on[track]})
    end
    engine.stop
    engine.halt
    engine.log
  end

  # @return [Integer] samples compared
  def compare(folder, log)
    log.stretches.sum do |stretch|
      lane = stretch.track.delete_prefix("t").to_i - 1
      File.open(File.join(folder, "takes/night/take-001", stretch.file), "rb") do |io|
        reader = Loomshuttle::Audio::Wav::Reader.new(io)
        raise "#{stretch.file}: #{reader.frames} frames, the journal says #{stretch.frames}" unless reader.frames == stretch.frames

        at = stretch.from_frame
        reader.each_block(480_000) do |samples|
          count = samples.shape[0]
          differing = (samples[true, 0] >> 8).ne(SteadyDevice.samples(count, lane, LANES, from: at)).count
          raise "#{stretch.file}: #{differing} samples differ behind frame #{at}" if differing > 0

          at += count
        end
        reader.frames
      end
    end
  end

  def rows(folder, log)
    installation = Installation.new(folder).start("server")
    take = installation.wait("the row") { installation.api("get", "#{installation.show}/takes").last["takes"].find { |row| row["number"] == 1 } }
    said = take["files"].map { |file| file.values_at("track", "file", "at_frames", "frames") }.sort
    wanted = log.stretches.map { |stretch| [stretch.track, stretch.file, stretch.from_frame - log.start_frame, stretch.frames] }.sort
    raise "the database says otherwise: #{(said - wanted).first(3)} #{(wanted - said).first(3)}" unless said == wanted

    said.size
  ensure
    installation&.stop
  end
end

if $PROGRAM_NAME == __FILE__
  seconds = (ARGV.first || 3600).to_i
  Dir.mktmpdir("loomshuttle-night", ENV.fetch("LOOMSHUTTLE_BENCH", "/tmp")) do |folder|
    start_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    log = Bench.record(folder, seconds)
    recorded_s = Process.clock_gettime(Process::CLOCK_MONOTONIC) - start_s
    samples = Bench.compare(folder, log)
    files = Bench.rows(folder, log)
    puts "| #{seconds} s of #{Bench::LANES} lanes, an arm change a second: files | #{files} |", "| frames lost | #{log.lost_frames} |",
      "| samples compared with what the device gave, none off | #{samples} |", "| journal and database | agree |", "| took, s | #{recorded_s.round} |"
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "support/wrong_clock"
require_relative "../../boot/engine"

# The machine's clock is set while a take runs: what is recorded is counted in frames, and how long
# the engine was away is told by the clock that counts since the machine was started.
RSpec.describe "A clock that is set while a take runs" do
  around do |example|
    Dir.mktmpdir do |folder|
      @installation = Installation.new(folder)
      @clock = WrongClock.new(folder)
      example.run
    ensure
      @installation.stop
    end
  end

  def status = @installation.engine(do: "status")
  def take = status["recording"]
  def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
  def log = Loomshuttle::Engine::Journal.read(File.join(@installation.folder, "takes/night/take-001"))

  def start
    @installation.start("engine", environment: @clock.environment)
    @installation.wait("the device") { status.dig("device", "state") == "running" }
  end

  def more(frames) = take["frames"].then { |now| @installation.wait("more frames") { take && take["frames"] > now + frames } }

  # Each is more than an engine may be away, or less than nothing.
  [-7200, 7200].each do |off_s|
    it "goes on over #{off_s} s, and over a death of the engine after it, with the gap as long as it was" do
      @installation.start("standin")
      start
      tracks = [{key: "t1", name: "Kick", file: "01 Kick", lanes: [1]}]
      began_s = now_s
      @installation.engine(do: "record", plan: {uid: SecureRandom.uuid, number: 1, show: "night", sample_rate_hz: 48_000, margin_bytes: 1_000_000, preroll_s: 0, tracks: tracks})
      more(20_000)
      @clock.set(off_s)
      @installation.wait("the clock that was set") { (status.dig("clock", "utc_s") - Time.now.to_f - off_s).abs < 5 }
      more(20_000)
      @installation.kill("engine")
      start
      more(20_000)
      expect(@installation.engine(do: "stop")).to include("reason" => "stopped by hand")
      gap_s = log.stretches.each_cons(2).sum { |before, after| after.from_frame - before.to_frame } / 48_000.0
      # Frames that a busy machine lost end stretches too.
      expect([log.state, log.stretches.size, gap_s]).to match(["closed", be >= 2, be_between(0, now_s - began_s)])
    end
  end
end

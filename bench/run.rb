# frozen_string_literal: true

# Measures and prints a table:  bundle exec ruby bench/run.rb [seconds of recording]
#
#   blocks lost and share of one core for 32 lanes recorded (real engine, real stand-in)
#   all traces and all checks on the demo
#   one edit from key press to the repainted loom, in headless Chromium
require_relative "../spec/support/installation"
require_relative "../spec/support/browser"
require_relative "../demo/lanterns"
require "etc"

module Bench
  include Loomshuttle

  module_function

  def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

  # Middle of several runs: these machines are noisy.
  def middle_ms(runs)
    Array.new(runs) { now.then { |start| yield && (now - start) * 1000 } }.sort[runs / 2].round(2)
  end

  def cpu_s(pid) = File.read("/proc/#{pid}/stat").split.then { |fields| (fields[13].to_i + fields[14].to_i) / Etc.sysconf(Etc::SC_CLK_TCK).to_f }

  def core
    show = Demo.show
    ids = show.rows.keys + show.patch.slots.keys
    {"all traces on the demo (#{ids.size} places, both ways), ms" => middle_ms(5) { ids.each { |id| [Loomshuttle::Signal::Trace.forward(show, id), Loomshuttle::Signal::Trace.back(show, id)] } },
     "all checks on the demo, new graph, ms" => middle_ms(21) { Checks::All.findings(show.with(name: "x")) },
     "patch loom woven, ms" => middle_ms(21) { Loomshuttle::Signal::Loom.weave(show, Loomshuttle::Signal::Looms.patch(show)) }}
  end

  def recording(installation, seconds)
    installation.wait("the device") { installation.engine(do: "status").dig("device", "state") == "running" }
    files = (1..32).map { |lane| {file: format("%02d.wav", lane), name: "Lane #{lane}", track: "rec/track/#{lane}", lane: lane} }
    installation.engine(do: "record", folder: "bench/take", take: {number: 1, id: 0, sample_rate_hz: 48_000, time_reference_samples: 0, date: "", time: "", files: files})
    pids = %w[engine standin].to_h { |name| [name, installation.pid(name)] }
    start = now
    before = pids.transform_values { |pid| cpu_s(pid) }
    sleep seconds
    shares = pids.to_h { |name, pid| ["#{name}, share of one core, %", ((cpu_s(pid) - before[name]) / (now - start) * 100).round(1)] }
    installation.engine(do: "stop")
    take = installation.engine(do: "status")["last_take"]
    {"32 lanes recorded, s" => (take["frames"] / 48_000.0).round(1), "blocks lost" => take["lost_blocks"], **shares}
  end

  # From the key press to the frame in which the strand stands on the page.
  def edit_to_repaint(installation)
    Capybara.default_max_wait_time = 15
    page = Capybara::Session.new(:loom)
    Browser.exact_size(page)
    page.visit("#{installation.address}/patch")
    page.find("[data-knot='desk/card-send/13']").click
    page.find("[data-knot='rec/track/13']").click
    strand = "[data-strand='desk/card-send/13>rec/track/13']"
    page.assert_selector(strand, visible: :all)
    times = Array.new(10) { |i| one_repaint(installation, page, strand, i.odd?) }.sort
    page.quit
    {"key press to repainted loom, ms" => times[times.size / 2].round(1)}
  end

  def one_repaint(installation, page, strand, wanted)
    page.execute_script(WATCH, strand, wanted)
    page.find("body").send_keys(wanted ? [:control, :shift, "z"] : [:control, "z"])
    installation.wait("the repaint") { page.evaluate_script("window.repaintedMs") }
  end

  # From the page's own key event to the frame behind the change.
  WATCH = <<~JS
    const [selector, wanted] = arguments;
    window.repaintedMs = null;
    document.addEventListener("keydown", function begin(event) {
      if (event.code !== "KeyZ") return;
      document.removeEventListener("keydown", begin, true);
      const start = performance.now();
      const look = () => (document.querySelector(selector) !== null) === wanted
        ? requestAnimationFrame(() => { window.repaintedMs = performance.now() - start; }) : requestAnimationFrame(look);
      look();
    }, true);
  JS
end

Dir.mktmpdir("loomshuttle-bench") do |folder|
  installation = Installation.new(folder).start("standin", "engine", "server")
  table = {**Bench.core, **Bench.edit_to_repaint(installation), **Bench.recording(installation, (ARGV.first || 60).to_i)}
  puts "| figure | measured |", "|---|---|", table.map { |name, value| "| #{name} | #{value} |" }
ensure
  installation&.stop
end

# frozen_string_literal: true

# Measures and prints a table:  bundle exec ruby bench/run.rb [seconds of recording]
#
#   blocks lost and share of one core for 32 lanes recorded (real engine, real stand-in)
#   all traces and all checks on the demo
#   a generated large rig: all traces, reaches and checks, and one edit with its findings; the
#   same from 250 to 4,000 endpoints
#   one edit from key press to the repainted loom, first paint of Patch, and pan and hover on a
#   loom of 128 threads, in headless Chromium
require_relative "../spec/support/installation"
require_relative "../spec/support/browser"
require_relative "../demo/lanterns"
require_relative "large_rig"
require "etc"

module Bench
  include Loomshuttle

  module_function

  def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

  # Middle of several runs: these machines are noisy. Each begins on a clean heap, so that no
  # run pays for the garbage of the one before.
  def middle_ms(runs)
    Array.new(runs) { (GC.start || now).then { |start| yield && (now - start) * 1000 } }.sort[runs / 2].round(2)
  end

  def cpu_s(pid)
    File.read("/proc/#{pid}/stat").split.then { |fields| (fields[13].to_i + fields[14].to_i) / Etc.sysconf(Etc::SC_CLK_TCK).to_f }
  end

  def core
    show = Demo.show
    ids = show.rows.keys + show.patch.slots.keys
    {"all traces on the demo (#{ids.size} places, both ways), ms" => middle_ms(5) {
      ids.each do |id|
        [Loomshuttle::Signal::Trace.forward(show, id), Loomshuttle::Signal::Trace.back(show, id)]
      end
    },
     "all checks on the demo, new graph, ms" => middle_ms(21) { Checks::All.findings(fresh(show)) },
     "patch loom woven, ms" => middle_ms(21) { Loomshuttle::Screens::Loom.weave(show, Loomshuttle::Screens::Looms.patch(show)) }}
  end

  # A show that remembers nothing: all of it is worked out anew.
  def fresh(show) = Loomshuttle::Show.new(**show.to_h)

  def everything(show)
    show.rows.each_key { |id| [Loomshuttle::Signal::Trace.forward(show, id), Loomshuttle::Signal::Reach.listeners(show, id)] }
    Checks::All.findings(show)
  end

  def large
    show = LargeRig.show
    # As on the screen: the show that is edited was looked at before.
    edit = Edits::Connect.new(slot: "desk-1/channel/5", from: "desk-1/mic/3")
    Checks::All.findings(show)
    name = "large rig (4 desks, 24 boxes, 2 computers, #{show.rig.places.size} endpoints, #{show.rows.size} threads)"
    {"#{name}: all traces, reaches and checks, ms" => middle_ms(11) { everything(fresh(show)) },
     "large rig: one edit with its findings, ms" => middle_ms(11) { Checks::All.findings(edit.apply(show)) }}
  end

  # One desk grows by its boxes and sources; endpoints, sources and ms, and us an endpoint.
  def growth
    [[1, 20], [2, 40], [4, 80], [8, 160], [16, 320]].to_h do |size, threads|
      show = LargeRig.grown(size, threads)
      ms = middle_ms(11) { everything(fresh(show)) }
      ["#{show.rig.places.size} endpoints, #{show.rows.size} threads: all traces, reaches and checks, ms (us an endpoint)", "#{ms} (#{(ms * 1000 / show.rig.places.size).round(1)})"]
    end
  end

  def recording(installation, seconds)
    installation.wait("the device") { installation.engine(do: "status").dig("device", "state") == "running" }
    tracks = (1..32).map { |lane| {key: "rec/track/#{lane}", name: "Lane #{lane}", file: format("%02d", lane), lanes: [lane]} }
    installation.engine(do: "record", plan: {uid: "bench-take", number: 1, show: "bench", sample_rate_hz: 48_000, tracks: tracks})
    pids = %w[engine standin deck].to_h { |name| [name, installation.pid(name)] }
    start = now
    before = pids.transform_values { |pid| cpu_s(pid) }
    sleep seconds
    shares = pids.to_h { |name, pid| ["#{name}, share of one core, %", ((cpu_s(pid) - before[name]) / (now - start) * 100).round(1)] }
    sizes = pids.to_h { |name, pid| ["#{name}, resident, MB", resident_mb(pid)] }
    longest = installation.engine(do: "status").dig("device", "longest_ms")
    take = installation.engine(do: "stop")
    {"32 lanes recorded, s" => (take["frames"] / 48_000.0).round(1), "blocks lost" => take["lost_blocks"], "longest block, ms" => longest, **shares, **sizes, **splitting([seconds, 20].min)}
  end

  def resident_mb(pid) = File.read("/proc/#{pid}/status")[/VmRSS:\s+(\d+)/, 1].to_i / 1024

  # ffmpeg splitting 32 raw lanes into 24-bit files, without meters, sync or headers, in the same run.
  def splitting(seconds)
    Dir.mktmpdir("loomshuttle-ffmpeg") do |folder|
      File.open(File.join(folder, "in.raw"), "wb") { |io| seconds.times { io.write(Random.bytes(32 * 4 * 48_000)) } }
      pans = (0...32).map { |lane| "[0:a]pan=mono|c0=c#{lane}[o#{lane}]" }.join(";")
      outs = (0...32).flat_map { |lane| ["-map", "[o#{lane}]", "-c:a", "pcm_s24le", File.join(folder, "#{lane}.wav")] }
      before = now
      @children = Process.times.then { |used| used.cutime + used.cstime }
      pid = spawn("ffmpeg", "-y", "-v", "error", "-re", "-f", "s32le", "-ar", "48000", "-ac", "32", "-i", File.join(folder, "in.raw"), "-filter_complex", pans, *outs)
      _, status = Process.wait2(pid)
      used = Process.times
      {"ffmpeg splitting the same lanes, share of one core, %" => (status.success? ? ((used.cutime + used.cstime - @children) / (now - before) * 100).round(1) : "failed")}
    end
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

  # From opening the page to the frame in which the loom's threads stand.
  def first_paint(installation)
    page = Capybara::Session.new(:loom)
    Browser.exact_size(page)
    page.driver.browser.execute_cdp("Page.addScriptToEvaluateOnNewDocument", source: FIRST_PAINT)
    times = Array.new(5) do
      page.visit("#{installation.address}/rig")
      page.assert_selector("[data-device]")
      page.visit("#{installation.address}/patch")
      installation.wait("the first paint") { page.evaluate_script("window.paintedMs") }
    end
    page.quit
    {"first paint of Patch with its loom there, ms after opening the page (middle of 5)" => times.sort[2].round}
  end

  # Looks at every frame from the page's beginning until a thread has been drawn in one.
  FIRST_PAINT = <<~JS
    const look = () => document.querySelector("[data-strand]")
      ? requestAnimationFrame(() => { window.paintedMs = performance.now(); }) : requestAnimationFrame(look);
    requestAnimationFrame(look);
  JS

  # Frames a second while a pointer runs down a post of 128 threads, and while the loom is panned.
  def frame_rates(installation)
    installation.perform(Exchange::ShowFile.write(LargeRig.show(desks: 1, threads: 128, computers: 1)))
    page = Capybara::Session.new(:loom)
    Browser.exact_size(page)
    page.visit("#{installation.address}/patch")
    page.assert_selector("[data-knot='list/row/128']", visible: :all)
    hover, pan = page.evaluate_async_script(FRAMES)
    page.quit
    {"loom of 128 threads, #{hover["places"]} places: frames a second while hovering" => hover["fps"].round, "the same while panning" => pan["fps"].round}
  end

  FRAMES = <<~JS
    const done = arguments[0];
    const svg = document.querySelector("svg[aria-label='Patch loom']");
    const box = svg.parentElement;
    const knots = [...svg.querySelectorAll("[data-knot^='list/row/']")];
    const measure = async (act) => {
      let frames = 0;
      const start = performance.now();
      while (performance.now() - start < 3000) {
        act(frames);
        await new Promise(requestAnimationFrame);
        frames += 1;
      }
      return { fps: frames / ((performance.now() - start) / 1000), places: svg.querySelectorAll("[data-knot]").length };
    };
    (async () => {
      const hover = await measure((n) => knots[n % knots.length].dispatchEvent(new PointerEvent("pointerover", { bubbles: true })));
      const pan = await measure((n) => { box.scrollTop = (n * 24) % 1200; });
      done([hover, pan]);
    })();
  JS

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

if $PROGRAM_NAME == __FILE__
  Dir.mktmpdir("loomshuttle-bench") do |folder|
    # The core alone is measured before anything else runs.
    table = {**Bench.core, **Bench.large, **Bench.growth}
    installation = Installation.new(folder).start("standin", "engine", "server")
    table = {**table,
      **Bench.edit_to_repaint(installation),
      **Bench.first_paint(installation),
      **Bench.recording(installation, (ARGV.first || 60).to_i),
      **Bench.frame_rates(installation)}
    puts "| figure | measured |", "|---|---|", table.map { |name, value| "| #{name} | #{value} |" }
  ensure
    installation&.stop
  end
end

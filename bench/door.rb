# frozen_string_literal: true

# What the venue's network costs: the page through nginx against loopback, a phone's page and its levels in bytes,
# fifty devices beside a recording, ten thousand wrong codes, and 20,000 random spellings of paths. In one run on one
# machine:
#
#   bundle exec ruby bench/door.rb [paint] [phone] [devices] [guesses] [spellings [SEED]]
require "bundler/setup"
$stdout.sync = true
$LOAD_PATH.unshift File.expand_path("../spec", __dir__)
require "net/http"
require "openssl"
require "tmpdir"
require "support/browser"
require "support/fingers"
require "support/installation"
require "support/spellings"
require "support/wire"
require "cgi"
require "erb"
require_relative "../boot/core"
require_relative "../demo/lanterns"
require_relative "timing"
require_relative "large_rig"

module Loomshuttle
  # Other addresses of the loopback range stand for the venue's devices.
  module DoorBench
    ADDRESS = "127.0.0.2"
    TURNS = 9
    DEVICES = 50
    ADDRESSES = 20
    GUESSES = 10_000
    SPELLINGS = 20_000
    # When the page has drawn what it is about: its heading, and its first level or thread.
    STANDS = <<~JS
      window.stoodMs = null;
      const look = () => document.querySelector("main h2") && document.querySelector("[role=meter], [data-strand], [data-place]")
        ? requestAnimationFrame(() => { window.stoodMs = performance.now(); }) : requestAnimationFrame(look);
      document.addEventListener("DOMContentLoaded", look);
    JS

    extend Timing

    module_function

    # An installation with its front door open, and a way to let devices in.
    def open_house(*services, lanes: nil)
      Dir.mktmpdir("loomshuttle-bench") do |folder|
        File.chmod(0o711, folder)
        installation = Installation.new(folder)
        installation.start(*services, "door")
        perform(installation, lanes) if lanes
        installation.api("put", "/api/door/way", {addresses: [ADDRESS]})
        port = installation.services.ports["door"]
        installation.wait("the door") { TCPSocket.new(ADDRESS, port).close || true }
        yield installation, port
      ensure
        installation&.stop
      end
    end

    # So many lanes, each on an armed track.
    def perform(installation, lanes)
      installation.perform(Exchange::ShowFile.write(Bench::LargeRig.show(desks: 1, threads: lanes, computers: 1)))
      show = installation.api("get", installation.show).last
      tracks = show["tracks"].map { |track| track["id"] }
      installation.api("post", "#{installation.show}/edits", {version: show["version"], edit: {kind: "arm", tracks: tracks, armed: true}})
      installation.wait("the device") { installation.engine(do: "status").dig("device", "state") == "running" }
    end

    def cookie(installation, port, may, name, from: nil)
      code = installation.api("post", "/api/door/codes", {may: may}).last["code"]
      answer = door(port, from: from) { |http| http.post("/api/door", JSON.generate(code: code, name: name), "content-type" => "application/json") }
      answer["set-cookie"][/\A[^;]+/]
    end

    def door(port, from: nil, &use)
      http = Net::HTTP.new(ADDRESS, port)
      http.use_ssl, http.verify_mode, http.local_host = true, OpenSSL::SSL::VERIFY_NONE, from
      http.start(&use)
    end

    def let_in(page, installation, port, may)
      page.visit("https://#{ADDRESS}:#{port}/")
      page.fill_in("Code", with: installation.api("post", "/api/door/codes", {may: may}).last["code"])
      page.fill_in("What this device is called", with: "Bench")
      page.click_button("Go in")
      page.assert_selector("main h2")
    end

    # Patch with its loom, by turns on loopback and through nginx, each time with an empty cache.
    def paint
      open_house("standin", "engine", "server") do |installation, port|
        near, far = Capybara::Session.new(:loom), Capybara::Session.new(:device)
        [near, far].each do |page|
          Browser.exact_size(page)
          page.driver.browser.execute_cdp("Page.addScriptToEvaluateOnNewDocument", source: STANDS)
        end
        let_in(far, installation, port, "lead")
        times = {near => [], far => []}
        TURNS.times do
          {near => installation.address, far => "https://#{ADDRESS}:#{port}"}.each do |page, address|
            page.driver.browser.execute_cdp("Network.clearBrowserCache")
            page.visit("#{address}/shows/1/patch")
            times[page] << installation.wait("the page") { page.evaluate_script("window.stoodMs") }
          end
        end
        puts format("Patch with its loom, empty cache: loopback %.0f ms, through nginx %.0f ms, ratio %.2f (medians of %d by turns)",
          median(times[near]), median(times[far]), median(times[far]) / median(times[near]), TURNS)
      ensure
        [near, far].each { |page| page&.quit }
      end
    end

    # What a phone fetches for Capture, with an empty cache, and what its line of events brings while 32 lanes are shown.
    def phone
      open_house("standin", "engine", "server", lanes: 32) do |installation, port|
        page = Capybara::Session.new(:device)
        Fingers.new(page, width: 390, height: 844)
        page.driver.browser.execute_cdp("Page.addScriptToEvaluateOnNewDocument", source: STANDS)
        let_in(page, installation, port, "stage")
        page.driver.browser.execute_cdp("Network.clearBrowserCache")
        page.visit("https://#{ADDRESS}:#{port}/shows/#{installation.show_id}/capture")
        stood_ms = installation.wait("the page") { page.evaluate_script("window.stoodMs") }
        painted_ms = page.evaluate_script("performance.getEntriesByName('first-contentful-paint')[0]?.startTime")
        fetched = page.evaluate_script("[...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')].map((one) => [one.name, one.responseEnd, one.transferSize])")
        sum = ->(until_ms) { fetched.sum { |_, end_ms, bytes| (end_ms.positive? && end_ms <= until_ms) ? bytes : 0 } / 1000.0 }
        puts format("a phone's Capture with 32 tracks: %.0f kB before the first paint, %.0f kB until its levels stand (compressed, empty cache)", sum[painted_ms], sum[stood_ms])
        puts format("levels of 32 lanes, 10 times a second, recording: %.2f kB/s", events_kb_s(installation, port))
      ensure
        page&.quit
      end
    end

    def events_kb_s(installation, port)
      installation.api("post", "#{installation.show}/capture/start", {})
      me = cookie(installation, port, "stage", "Line")
      line = event_line(port, me, "?rate_hz=10&lanes=1-32")
      # The whole that comes first is no rate.
      read_for(line, 2)
      read_for(line, 20) / 20.0 / 1000
    end

    # @return [Integer] bytes that came on a line in so many seconds
    def read_for(line, seconds)
      ends_s, bytes = now_s + seconds, 0
      while now_s < ends_s
        part = line.read_nonblock(1 << 16, exception: false)
        part.is_a?(String) ? bytes += part.bytesize : IO.select([line], nil, nil, 0.1)
      end
      bytes
    end

    def event_line(port, me, query)
      socket = OpenSSL::SSL::SSLSocket.new(TCPSocket.new(ADDRESS, port))
      socket.connect
      socket.write("GET /api/events#{query} HTTP/1.1\r\nHost: #{ADDRESS}:#{port}\r\nCookie: #{me}\r\n\r\n")
      socket
    end

    # Fifty devices with levels while 32 lanes are recorded: what a request waits, and whether a block was lost.
    def devices
      open_house("standin", "engine", "server", lanes: 32) do |installation, port|
        me = cookie(installation, port, "stage", "Fifty")
        installation.api("post", "#{installation.show}/capture/start", {})
        said, says = IO.pipe
        pid = fork { hear(port, me, says) }
        said.gets
        pings = door(port) { |http| Array.new(600) { timed { http.get("/api/desk", {"cookie" => me}) }.tap { sleep 0.03 } } }
        status = installation.engine(do: "status")
        Process.kill("KILL", pid)
        last = installation.api("post", "/api/capture/stop", {}).last["ok"]
        puts format("%d devices on event lines beside %d lanes, %.0f s: ping through nginx median %.1f ms, p95 %.1f ms; %d blocks lost, %d frames lost by the device",
          DEVICES, status.dig("recording", "tracks_in").size, last["frames"] / 48_000.0, median(pings), p95(pings), last["lost_blocks"], status["device"]["lost_in_frames"])
      ensure
        Process.wait(pid) if pid
      end
    end

    def hear(port, me, says)
      lines = Array.new(DEVICES) { event_line(port, me, "?rate_hz=20&lanes=1-32") }
      says.puts "listening"
      loop { IO.select(lines, nil, nil, 1)&.first&.each { |socket| nil while socket.read_nonblock(1 << 16, exception: false).is_a?(String) } }
    end

    # Ten thousand wrong codes from twenty addresses, while a page is asked for.
    def guesses
      open_house("standin", "engine", "server") do |installation, port|
        me = cookie(installation, port, "look", "Quiet one")
        calm = door(port) { |http| Array.new(200) { timed { http.get("/api/shows/1", {"cookie" => me}) } } }
        good = installation.api("post", "/api/door/codes", {may: "lead"}).last["code"]
        answers = Thread::Queue.new
        guessers = Array.new(ADDRESSES) { |n| Thread.new { guess(port, "127.0.1.#{n + 1}", good, answers) } }
        under, began = [], now_s
        door(port) { |http| under << timed { http.get("/api/shows/1", {"cookie" => me}) } while guessers.any?(&:alive?) }
        guessers.each(&:join)
        tally = Array.new(answers.size) { answers.pop }.tally
        devices = installation.api("get", "/api/door/devices").last.size
        puts format("%d wrong codes from %d addresses: %s; devices let in besides the one: %d; a page %.1f ms before, p95 %.1f; meanwhile %.1f ms, p95 %.1f (%.0f s)",
          tally.values.sum, ADDRESSES, tally.sort.map { |code, count| "#{count} times #{code}" }.join(", "), devices - 1, median(calm), p95(calm), median(under), p95(under), now_s - began)
      end
    end

    def guess(port, from, good, answers)
      random = Random.new(from.hash)
      door(port, from: from) do |http|
        (GUESSES / ADDRESSES).times do
          code = format("%06d", random.rand(1_000_000))
          code = format("%06d", (code.to_i + 1) % 1_000_000) if code == good
          answers << http.post("/api/door", JSON.generate(code: code, name: "x"), "content-type" => "application/json").code
        end
      end
    end

    # Paths of all operations with one to four signs spelt another way, asked for by a stranger and by a device that
    # may look, through nginx and past it with nginx's word. In is whatever was done or handed out by a path that is
    # none of its plain ones, or to somebody who may not.
    def spellings(seed = Random.new_seed % 100_000)
      open_house("server") do |installation, port|
        random = Random.new(seed)
        asked = Array.new(SPELLINGS) { operation(random) }
        word = Secrets.door(installation.folder).word
        {"a stranger" => nil, "a device that may look" => cookie(installation, port, "look", "Looks")}.each do |who, me|
          past = {"X-Loomshuttle-Door" => word, "X-Real-IP" => "10.0.0.1", "Cookie" => me}.compact
          lines = {"nginx" => Wire.new(ADDRESS, port, tls: true, headers: {"Cookie" => me}.compact),
                   "loopback" => Wire.new("127.0.0.1", installation.services.ports["http"], headers: past)}
          lines.each { |way, line| say_spellings(who, way, seed, asked, line.statuses(asked)) }
        end
      end
    end

    def operation(random)
      @operations ||= Spellings.operations
      method, path = @operations.sample(random: random)
      [method, Spellings.random(path, random)]
    end

    def say_spellings(who, way, seed, asked, statuses)
      got_in = asked.zip(statuses).select { |(_, path), status| status < 400 && !Spellings.plain?(path) }
      tally = statuses.tally.sort.map { |status, count| "#{count} times #{status}" }.join(", ")
      puts format("%d random spellings (seed %d) of %d operations by %s through %s: %d in; %s",
        asked.size, seed, @operations.size, who, way, got_in.size, tally)
      puts got_in.first(10).map(&:inspect)
    end
  end
end

wanted = ARGV.empty? ? %w[paint phone devices guesses spellings] : ARGV
seed = wanted.find { |word| word.match?(/\A\d+\z/) }
(wanted - [seed]).each { |name| Loomshuttle::DoorBench.public_send(name, *(seed&.to_i if name == "spellings")) }

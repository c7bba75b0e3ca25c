# frozen_string_literal: true

# Measures the audio engine and the deck, on a card of the bench's own:
#
#   bundle exec ruby bench/engine.rb [seconds]          each case for so many seconds
#   bundle exec ruby bench/engine.rb long [seconds]     128 lanes, free and with both cores burnt
#   bundle exec ruby bench/engine.rb hour [seconds]     64 lanes: what the memory does in an hour
#   bundle exec ruby bench/engine.rb play [seconds]     64 lanes played: what is late, and what the deck's memory does
#   bundle exec ruby bench/engine.rb stems [seconds]    24 stereo stems to 16 lanes while a take of 32 runs
#   bundle exec ruby bench/engine.rb ear [seconds]      32 recorded while 32 play and the ear listens
#   bundle exec ruby bench/engine.rb ping [times]       return pings of 64 lanes over a card that gives back what it got
#
# Every case is recorded by a real engine process with meters read 20 times a second, as the server
# does. Beside each, in the same run, ffmpeg splits 32 raw lanes into 24-bit files: without meters,
# headers or sync. LOOMSHUTTLE_BENCH names the folder that takes are written to.
require "etc"
require "tmpdir"
require_relative "../boot/services"
require_relative "../boot/files"
require_relative "../boot/runtime"

module Bench
  # One engine (and deck) with a card of so many lanes, in a folder of its own.
  class Rig
    SETTLE_S = 3
    AHEAD = %w[chrt --rr 50].freeze
    attr_reader :folder

    def initialize(root, lanes:, rate_hz:, names: ["engine"], loops: false)
      @folder = Dir.mktmpdir("loomshuttle-bench", root)
      @lanes, @rate_hz = lanes, rate_hz
      @services = Loomshuttle::Services.new(data: @folder)
      @card_out, out = IO.pipe
      # It stands in for hardware: nothing that runs beside it keeps it waiting.
      @pids = {"card" => spawn(*AHEAD, "ruby", File.join(__dir__, "card.rb"), @services.card_socket, lanes.to_s, rate_hz.to_s, *("loop" if loops), out: out)}
      @card_said = []
      Thread.new { @card_out.each_line { |line| @card_said << JSON.parse(line).merge("at_s" => Bench.now) } }
      @stood = []
      watch_cores
      wait { card_listens? }
      names.each { |name| @pids[name] = spawn(@services.environment, *@services.commands.fetch(name), :chdir => Loomshuttle::Services::ROOT, %i[out err] => File.join(@folder, "#{name}.log")) }
      wait { ask({do: "status"}).dig("device", "state") == "running" }
      @reader = Thread.new { subscribe }
      # While the rings are made, before anything can be recorded, blocks wait.
      sleep SETTLE_S
    end

    def ask(request, socket = @services.engine_socket)
      Loomshuttle::Runtime::LineClient.new(socket, who: "it").ask(request, seconds: 60)
    rescue Loomshuttle::Runtime::Gone
      {}
    end

    def deck(request) = ask(request, @services.deck_socket)
    def ear(request) = ask(request, File.join(@folder, "run/ear.sock"))

    def record(lanes = 1..@lanes, number: 1, preroll_s: 0)
      tracks = lanes.map { |lane| {key: "t#{lane}", name: "Lane #{lane}", file: format("%03d", lane), lanes: [lane]} }
      ask({do: "record", plan: {uid: "bench-#{number}", number: number, show: "bench", sample_rate_hz: @rate_hz, preroll_s: preroll_s, tracks: tracks}})
    end

    def cpu_s(name)
      File.read("/proc/#{@pids.fetch(name)}/stat").split.then { |fields| (fields[13].to_i + fields[14].to_i) / Etc.sysconf(Etc::SC_CLK_TCK).to_f }
    end

    def rss_mb(name) = File.read("/proc/#{@pids.fetch(name)}/status")[/VmRSS:\s+(\d+)/, 1].to_i / 1024.0

    # @return [Hash{String => Float}] per cent of one core, of each process
    def shares(seconds, names)
      before, start_s = names.to_h { |name| [name, cpu_s(name)] }, Bench.now
      sleep seconds
      names.to_h { |name| [name, ((cpu_s(name) - before[name]) / (Bench.now - start_s) * 100).round(1)] }
    end

    # What the card said since it was last asked; it is read all the while, for a card that cannot write stands still.
    #
    # @return [Array<Hash>] one a second
    def card
      wait { @card_said.any? }
      @card_said.shift(@card_said.size)
    end

    # @return [Hash] blocks that the card lost, and the most that it had to keep, since `card` was asked; where it lost any, how
    #   many within each second, and for how long cores stood still just then
    def card_lost(before)
      said = card
      lost = [before.last, *said].each_cons(2).filter_map { |was, is| (is["lost"] > was["lost"]) && {blocks: is["lost"] - was["lost"], cores_stood_ms: stood_about(is["at_s"])} }
      {lost: said.last["lost"] - before.last["lost"], most_waiting: said.map { |second| second["most_waiting"] }.max, card_stood_ms: said.last["stood_ms"] - before.last["stood_ms"],
       cores_stood_ms: @stood.sum { |one| one["ms"] }, lost_when: lost}
    end

    # @return [Hash{String => Float}] per cent of one core, by the engine's threads
    def threads(seconds, name)
      read = -> { Dir["/proc/#{@pids.fetch(name)}/task/*/stat"].to_h { |path| File.read(path).then { |text| [path, [text[/\((.*)\)/, 1], text.split(") ").last.split.values_at(11, 12).sum(&:to_i)]] } } }
      before = read.call
      sleep seconds
      read.call.map { |path, (thread, ticks)| [thread, (ticks - before.fetch(path, [0, 0]).last) / Etc.sysconf(Etc::SC_CLK_TCK).to_f / seconds * 100] }.sort_by { |_, share| -share }.first(12).map { |thread, share| [thread, share.round(2)] }
    end

    def close
      @reader.kill
      @pids.reverse_each { |_, pid| Process.kill("TERM", pid) && Process.wait(pid) rescue nil } # rubocop:disable Style/RescueModifier
      FileUtils.rm_rf([@folder, @services.rings])
    end

    private

    # A line comes once a second, so what it tells of was up to a second before.
    def stood_about(at_s) = @stood.select { |one| one["at_s"].between?(at_s - 2, at_s + 1) }.map { |one| one["ms"] }

    def watch_cores
      Etc.nprocessors.times do |core|
        out, into = IO.pipe
        @pids["core #{core}"] = spawn(*AHEAD, "taskset", "-c", core.to_s, "ruby", File.join(__dir__, "still.rb"), out: into)
        Thread.new { out.each_line { |line| @stood << JSON.parse(line) } }
      end
    end

    # Meters and state, as the server has them read.
    def subscribe
      Loomshuttle::Runtime::LineClient.new(@services.engine_socket, who: "it").follow { nil }
    rescue Loomshuttle::Runtime::Gone
      nil
    end

    def card_listens?
      File.socket?(@services.card_socket)
    end

    def wait(seconds: 120)
      deadline = Bench.now + seconds
      sleep 0.05 until yield || (Bench.now > deadline && raise("it did not come"))
    rescue SystemCallError
      retry
    end
  end

  module_function

  def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
  def root = ENV.fetch("LOOMSHUTTLE_BENCH", "/dev/shm")

  # Two processes that do nothing but take time.
  def burnt
    pids = Array.new(2) { spawn("ruby", "-e", "loop { 1 + 1 }") }
    yield
  ensure
    pids.each { |pid| Process.kill("KILL", pid) && Process.wait(pid) }
  end

  # @return [Hash] engine's share, memory, longest block, what was lost
  def recording(seconds, lanes:, rate_hz: 48_000)
    rig = Rig.new(root, lanes: lanes, rate_hz: rate_hz)
    before = rig.card
    rig.record
    sleep 2
    share = rig.shares(seconds, ["engine"])["engine"]
    status = rig.ask({do: "status"})
    stopped = rig.ask({do: "stop"})
    {share: share, rss: rig.rss_mb("engine").round, longest_ms: status.dig("device", "longest_ms"), lost_by_disk: stopped["lost_blocks"], **rig.card_lost(before), frames: stopped["frames"]}
  ensure
    rig&.close
  end

  # ffmpeg splitting 32 raw lanes into 24-bit files in real time: the unit of this run. (Its filter
  # takes no more than 64.)
  def splitting(seconds, lanes: 32)
    Dir.mktmpdir("loomshuttle-ffmpeg", root) do |folder|
      File.open(File.join(folder, "in.raw"), "wb") { |io| (seconds * 4).times { io.write(Random.bytes(lanes * 48_000)) } }
      pans = (0...lanes).map { |lane| "[0:a]pan=mono|c0=c#{lane}[o#{lane}]" }.join(";")
      outs = (0...lanes).flat_map { |lane| ["-map", "[o#{lane}]", "-c:a", "pcm_s24le", File.join(folder, "#{lane}.wav")] }
      start_s, before = now, Process.times.then { |used| used.cutime + used.cstime }
      system("ffmpeg", "-y", "-v", "error", "-re", "-f", "s32le", "-ar", "48000", "-ac", lanes.to_s, "-i", File.join(folder, "in.raw"), "-filter_complex", pans, *outs,
        exception: true)
      ((Process.times.then { |used| used.cutime + used.cstime } - before) / (now - start_s) * 100).round(1)
    end
  end

  # 32 lanes recorded while 32 files play, of a take made just before; the ear may listen to all of it.
  def both(seconds, ear: false)
    names = ["engine", "deck", *("ear" if ear)]
    rig = Rig.new(root, lanes: 32, rate_hz: 48_000, names: names)
    asking = Thread.new { loop { rig.ear({do: "listen", for_s: 10}) && sleep(2) } } if ear
    rig.record(1..32)
    sleep seconds + 4
    taken = rig.ask({do: "stop"})
    files = Dir[File.join(rig.folder, "takes", taken["folder"] || "bench/take-001", "*.wav")].sort
    voices = files.map.with_index(1) { |path, lane| {key: "t#{lane}", pieces: [{path: path.delete_prefix("#{rig.folder}/")}], lanes: [lane]} }
    before = rig.card
    rig.deck({do: "play", label: "the take before", rate_hz: 48_000, voices: voices})
    rig.record(1..32, number: 2)
    sleep 2
    shares = rig.shares(seconds, names)
    missed = rig.ear({do: "status"})["missed_blocks"] if ear
    device, deck = rig.ask({do: "status"})["device"], rig.deck({do: "status"})
    stopped = rig.ask({do: "stop"})
    {**shares, together: shares.values.sum.round(1), rss_engine: rig.rss_mb("engine").round, rss_deck: rig.rss_mb("deck").round, longest_ms: device["longest_ms"],
               lost_by_disk: stopped["lost_blocks"], **rig.card_lost(before), late: device["late_blocks"], skipped: deck.dig("playing", "late_blocks"), missed_by_ear: missed}.compact
  ensure
    asking&.kill
    rig&.close
  end

  # So many pings of 64 lanes: how long from the request to the answer, and how many lanes were named wholly right.
  def ping(times, lanes: 64)
    rig = Rig.new(root, lanes: lanes, rate_hz: 48_000, names: %w[engine deck ear], loops: true)
    before = rig.card
    all = (1..lanes).to_a
    seconds, right = [], 0
    times.times do
      start_s = now
      at_frame = rig.deck({do: "ping", lanes: all, level_dbfs: -30})["at_frame"] or next sleep(1)
      heard = rig.ear({do: "ping", at_frame: at_frame, inputs: all, lanes: lanes, level_dbfs: -30})
      seconds << (now - start_s).round(2)
      right += heard.each.with_index(1).count { |one, lane| one["pings"].map(&:first) == [lane] && (one["pings"].first[1] - 1).abs < 0.01 } if heard.is_a?(Array)
      rig.deck({do: "stop"})
      sleep 1
    end
    row("#{times} pings of #{lanes} lanes", {seconds: seconds.sort, named_right: right, of: seconds.size * lanes, **rig.card_lost(before)})
  ensure
    rig&.close
  end

  def row(name, figures) = puts("| #{name} | #{figures.map { |key, value| "#{key} #{value}" }.join(", ")} |")

  def table(seconds)
    [[32, 48_000], [64, 48_000], [128, 48_000], [64, 96_000]].each do |lanes, rate_hz|
      # Each beside its unit: these machines are as fast as their neighbours let them be.
      ffmpeg = splitting([seconds, 20].min)
      measured = recording(seconds, lanes: lanes, rate_hz: rate_hz)
      row("#{lanes} lanes, #{rate_hz} Hz", {**measured, ffmpeg: ffmpeg, ratio: (measured[:share] / ffmpeg).round(2)})
    end
    burnt { row("128 lanes, both cores burnt", recording(seconds, lanes: 128)) }
    row("32 recorded while 32 play", both(seconds))
    first_lost(seconds)
  end

  # More lanes until a block is lost.
  def first_lost(seconds)
    (160..1024).step(32) do |lanes|
      figures = recording([seconds, 15].min, lanes: lanes)
      row("#{lanes} lanes", figures)
      break if figures[:lost] + figures[:lost_by_disk] > 0
    end
  end

  # Resident memory once a minute, and its slope.
  def memory(seconds, lanes: 64)
    rig = Rig.new(root, lanes: lanes, rate_hz: 48_000)
    before = rig.card
    rig.record
    sizes = Array.new(seconds / 60) { sleep(60) && rig.rss_mb("engine") }
    stopped = rig.ask({do: "stop"})
    row("#{lanes} lanes for #{seconds} s", {mb: sizes.map(&:round).values_at(0, 5, -1), slope_mb_per_hour: slope(sizes), lost_by_disk: stopped["lost_blocks"], **rig.card_lost(before)})
  ensure
    rig&.close
  end

  # @param sizes [Array<Float>] MB, one a minute; the first five are no part of it
  # @return [Float] MB an hour, by least squares
  def slope(sizes)
    settled = sizes.drop(5)
    mean_x, mean_y = (settled.size - 1) / 2.0, settled.sum / settled.size
    (settled.each_with_index.sum { |size, at| (at - mean_x) * (size - mean_y) } / settled.each_index.sum { |at| (at - mean_x)**2 } * 60).round(2)
  end

  # Eight roles of two lanes each, three stereo stems a role, two minutes round and round.
  def stems(seconds, stem_s: 120)
    rig = Rig.new(root, lanes: 32, rate_hz: 48_000, names: ["engine", "deck"])
    voices = Array.new(24) do |at|
      name = "stem-#{at}.wav"
      Loomshuttle::Files::WavWriter.write(File.join(rig.folder, name), rate_hz: 48_000, names: %w[L R], frames: stem_s * 48_000) { |_, count| Numo::SFloat.new(2, count).rand(-0.2, 0.2) }
      {key: "stem/#{at}", pieces: [{path: name}], lanes: [at % 8 * 2 + 1, at % 8 * 2 + 2]}
    end
    rig.record
    before = rig.card
    found = round_and_round(rig, seconds, {do: "play", label: "stems", rate_hz: 48_000, voices: voices, loop: [0]})
    stopped = rig.ask({do: "stop"})
    row("24 stereo stems to 16 lanes, 32 recorded, for #{seconds} s",
      {**found, lost_by_disk: stopped["lost_blocks"], **rig.card_lost(before)})
  ensure
    rig&.close
  end

  # Plays; what ends it (a card that is away for too long) is told, and it plays again.
  #
  # @return [Hash] shares, memory, what was late
  def round_and_round(rig, seconds, play)
    rig.deck(play)
    sizes, ended = {"engine" => [], "deck" => []}, []
    watch = Thread.new do
      (1..).each do |minute|
        sleep 60
        sizes.each { |name, of| of << rig.rss_mb(name) }
        deck = rig.deck({do: "status"})
        next if deck["playing"]

        ended << {minute: minute, said: deck["faults"]}
        rig.deck(play)
      end
    end
    shares = rig.shares(seconds, ["engine", "deck"])
    watch.kill
    deck, device = rig.deck({do: "status"})["playing"].to_h, rig.ask({do: "status"})["device"]
    memory = (seconds < 600) ? {} : sizes.to_h { |name, of| [:"#{name}_mb", [*of.map(&:round).values_at(0, 5, -1), "slope #{slope(of)} an hour"]] }
    {**shares, late: device["late_blocks"], skipped: deck["late_blocks"], failed: deck["failed"], ended: ended, **memory}
  end

  # A take of two minutes goes round and round.
  def played(seconds, lanes: 64, take_s: 120)
    rig = Rig.new(root, lanes: lanes, rate_hz: 48_000, names: ["engine", "deck"])
    rig.record
    sleep take_s
    taken = rig.ask({do: "stop"})
    voices = Dir[File.join(rig.folder, "takes", taken["folder"], "*.wav")].sort.map.with_index(1) { |path, lane| {key: "t#{lane}", pieces: [{path: path.delete_prefix("#{rig.folder}/")}], lanes: [lane]} }
    before = rig.card
    row("#{lanes} lanes played for #{seconds} s", {**round_and_round(rig, seconds, {do: "play", label: "round", rate_hz: 48_000, voices: voices, loop: [0]}), **rig.card_lost(before)})
  ensure
    rig&.close
  end
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  case ARGV.first
  when "long"
    seconds = (ARGV[1] || 600).to_i
    Bench.row("128 lanes for #{seconds} s", Bench.recording(seconds, lanes: 128))
    Bench.burnt { Bench.row("128 lanes for #{seconds} s, both cores burnt", Bench.recording(seconds, lanes: 128)) }
  when "ear" then Bench.row("32 recorded while 32 play and the ear listens", Bench.both((ARGV[1] || 60).to_i, ear: true))
  when "stems" then Bench.stems((ARGV[1] || 600).to_i)
  when "ping" then Bench.ping((ARGV[1] || 5).to_i)
  when "play" then Bench.played((ARGV[1] || 3600).to_i)
  when "hour" then Bench.memory((ARGV[1] || 3600).to_i)
  else Bench.table((ARGV.first || 30).to_i)
  end
end

# frozen_string_literal: true

# Figures of songs, click and jumps:
#   bundle exec ruby bench/tracks.rb bounce [minutes]    twelve stereo stems to eight lanes with click, against sox and ffmpeg without
#   bundle exec ruby bench/tracks.rb click [hours]       onsets of 127 bpm at 44.1 kHz against exact arithmetic
#   bundle exec ruby bench/tracks.rb jumps [count]       random jumps of eight lanes against the joined sections
#   bundle exec ruby bench/tracks.rb presses [count]     through server and deck: from the press to the frame at which it is heard
require "open3"
require "tmpdir"
require_relative "../boot/cli"
require_relative "../boot/deck"
require_relative "../demo/lanterns"
require_relative "timing"
Timing.extend(Timing)

ROLES = %w[strings winds keys voices].freeze

# As the library keeps them.
def stem(path, frames)
  Loomshuttle::Files::WavWriter.write("#{path}.24", rate_hz: 48_000, names: %w[L R], frames: frames) { |_, count| Numo::SFloat.new(2, count).rand(-0.2, 0.2) }
  run("ffmpeg", "-nostdin", "-v", "error", "-f", "wav", "-i", "#{path}.24", "-c:a", "pcm_f32le", "-f", "wav", path)
  File.delete("#{path}.24")
end

# Four roles on two lanes each, three stereo stems a role, the click on a lane of its own.
def bounced_show(frames)
  stems = ROLES.flat_map { |role| (1..3).map { |n| {name: "#{role} #{n}", role: role, file: "#{role}-#{n}.wav", sample_rate_hz: 48_000, frames: frames, channels: 2} } }
  song = {id: "long", title: "Long", bpm: 127, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: frames, stems: stems}
  whole = Loomshuttle::Demo.data
  lanes = ROLES.each_with_index.flat_map { |role, at| [at * 2 + 21, at * 2 + 22].map { |lane| ["rec/lane-out/#{lane}", {from: "songs/role/#{role}"}] } }.to_h
  slots = whole[:patch][:slots].reject { |slot, _| slot.start_with?("rec/lane-out/") }.merge(lanes, "rec/lane-out/31" => {from: "songs/role/click"})
  roles = [*ROLES.map { |role| {name: role, pair: true} }, {name: "click", hidden: true}]
  Loomshuttle::Demo.show(whole.merge(songs: [song], roles: roles, patch: whole[:patch].merge(slots: slots)))
end

def run(*command)
  out, status = Open3.capture2e(*command)
  raise "#{command.first}: #{out}" unless status.success?
end

# What a process and those that it began have in memory; what they share is counted once (PSS).
def together_mb(pid)
  below = Dir["/proc/#{pid}/task/*/children"].flat_map { |path| File.read(path).split }
  File.read("/proc/#{pid}/smaps_rollup")[/^Pss:\s+(\d+)/, 1].to_i / 1024.0 + below.sum { |one| together_mb(one) }
rescue SystemCallError
  0.0
end

# @return [Float] the most that it had
def most_mb(pid)
  most = 0.0
  until Process.wait(pid, Process::WNOHANG)
    most = [most, together_mb(pid)].max
    sleep 0.05
  end
  most
end

def bounce(minutes)
  frames = minutes * 60 * 48_000
  Dir.mktmpdir do |folder|
    show = bounced_show(frames)
    paths = show.songs.first.stems.to_h { |one| [one.file, File.join(folder, one.file)] }
    paths.each_value { |path| stem(path, frames) }
    sums = ROLES.map { |role| (1..3).map { |n| paths.fetch("#{role}-#{n}.wav") } }
    # All three read files that lie in memory, and write beside them.
    made = nil
    child = fork do
      made = Timing.timed { Loomshuttle::Files::Bounce.new(show) { |_, file| File.join(folder, file) }.write(show.songs.first, File.join(folder, "out")) }
      File.write(File.join(folder, "ours"), JSON.generate(made))
    end
    peak_mb = most_mb(child)
    ours_ms = JSON.parse(File.read(File.join(folder, "ours")))
    sox = Timing.timed { sums.each_with_index { |three, at| run("sox", "-m", *three.flat_map { |path| ["-v1", path] }, "-b24", File.join(folder, "sox#{at}.wav")) } }
    split = ["-filter_complex", sums.each_index.map { |at| "[#{at * 3}][#{at * 3 + 1}][#{at * 3 + 2}]amix=3:normalize=0,channelsplit[l#{at}][r#{at}]" }.join(";")]
    outs = sums.each_index.flat_map { |at| %w[l r].flat_map { |side| ["-map", "[#{side}#{at}]", "-c:a", "pcm_s24le", File.join(folder, "ff#{side}#{at}.wav")] } }
    ffmpeg = Timing.timed { run("ffmpeg", "-v", "error", *sums.flatten.flat_map { |path| ["-i", path] }, *split, *outs) }
    puts JSON.generate(minutes: minutes, against_sox: (ours_ms / sox).round(2), against_ffmpeg: (ours_ms / ffmpeg).round(2), ours_s: (ours_ms / 1000).round(1),
      peak_mb: peak_mb.round)
  end
end

# The accent's first sample is silent (it begins at a zero crossing): onsets are told by Click#onsets, and each is looked for in the sound.
def click(hours)
  map = Loomshuttle::Music::TempoMap.of(bpm: 127, meter: Loomshuttle::Music::Meter.new(beats: 4, unit: 4))
  beats = 127 * 60 * hours
  made = Loomshuttle::Music::Click.new(map, Loomshuttle::Music::Click::Style.new, rate_hz: 44_100, to_bar: beats / 4 + 1)
  worst = 0
  silent = sounding = 0
  at = 0
  beats.times do |beat|
    exact = Rational(beat * 60 * 44_100, 127)
    frame = exact.round
    worst = [worst, (frame - exact).abs].max
    # Up to the beat nothing of what is new, from it on the click: what was is over by then.
    before = made.render(frame - 64, 64) if beat.positive?
    after = made.render(frame, 64)
    silent += 1 if before.nil? || before.abs.max.zero?
    sounding += 1 if after[0..2].abs.max.positive?
    at = frame
  end
  puts JSON.generate(hours: hours, onsets: beats, worst_samples: worst.to_f.round(4), silent_before: silent, sounding_from: sounding, last_frame: at)
end

# A player between a ring and a clock that is turned by hand; what was heard of every lane is held against the sections joined.
def jumps(count)
  rate, block, lanes = 8_000, 64, 8
  clock = nil
  reading = ->(frame) { Loomshuttle::Rings::ClockPage::Reading.new(frame: frame, session: 1, rate_hz: rate, block_frames: block, lanes_in: 2, lanes_out: lanes, mono_s: 0.0) }
  random = Random.new(11)
  frames = 32_000
  # Each lane tells its own frames: 1, 2, 3 ... in steps of the lane.
  samples = Numo::SFloat.zeros(lanes, frames)
  lanes.times { |lane| samples[lane, true] = (Numo::SFloat.new(frames).seq(1) + lane) / 2**16 }
  source = Struct.new(:samples) {
    def frames = samples.shape[1]
    def channels = samples.shape[0]
    def read(from, count) = samples[true, from...(from + count)]
    def close = nil
  }.new(samples)
  program = Loomshuttle::Render::Program.new(label: "x", rate_hz: rate, voices: [Loomshuttle::Render::Voice.new(key: "a", source: source, lanes: (1..lanes).to_a)], length_frames: frames)
  Dir.mktmpdir do |folder|
    ring = Loomshuttle::Rings::PlayRing.create(File.join(folder, "play"), lanes: lanes, block_frames: block, rate_hz: rate, slots: 250)
    clock = reading[1_000_000]
    player = Loomshuttle::Deck::Player.new(-> { ring }, -> { clock })
    heard = ->(blocks) {
      Numo::NArray.hstack(Array.new(blocks) {
        bytes = ring.read(clock.frame)
        clock = reading[clock.frame + block]
        player.turn
        bytes ? (Numo::Int32.from_binary(bytes, [block, lanes]).transpose >> 15) : Numo::Int32.zeros(lanes, block)
      })
    }
    silence = player.start(program) - clock.frame
    begun, wrong, joins, checked = 0, 0, 0, 0
    left = heard[(silence + block - 1) / block + 1][true, silence..]
    seam = (0.005 * rate).round
    first = true
    count.times do
      at, to = player.position_frames + random.rand(2 * block..2_000), random.rand(0..28_000)
      player.arm(position: to, at: at)
      size = at - begun
      left = Numo::NArray.hstack([left, heard[(size - left.shape[1]) / block + 1]]) if left.shape[1] < size
      part = left[true, 0...size]
      exact = Numo::Int32.new(1, size).seq(begun + 1) + Numo::Int32.new(lanes, 1).seq
      off = part.ne(exact)
      # The line from one to the other is not held against anything but its length.
      off[true, 0...[seam, size].min] = 0 unless first
      wrong += off.count_true
      checked += size * lanes
      joins += 1
      first = false
      left = left[true, size..]
      begun = to
    end
    puts JSON.generate(jumps: joins, lanes: lanes, samples: checked, off: wrong, late_blocks: player.late)
  end
end

# Presses at the server's door, as a page sends them; the deck keeps from which device frame on each holds. Real engine,
# stand-in, deck and server.
def presses(count)
  require_relative "../spec/support/installation"
  require_relative "../demo/stems"
  Dir.mktmpdir do |folder|
    Loomshuttle::Demo::Stems.write(File.join(folder, "songs"))
    one = Installation.new(folder).start("standin", "engine", "server")
    one.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended))
    one.wait("the device") { one.engine(do: "status").dig("device", "state") == "running" }
    clock = Loomshuttle::Rings::Shared.new(one.services.rings)
    held = -> { JSON.parse(File.read(File.join(folder, "run/deck.json")))["at_frame"] }
    # The device's frame of this very moment.
    now = -> { clock.clock.then { |page| page.frame - page.block_frames + (Timing.now_s - page.mono_s) * page.rate_hz } }
    ms = ->(frames) { (frames / 48.0).round(1) }
    post = ->(path, given) { one.api("post", path, given).first == 200 || raise(path) }
    key = one.api("get", one.show).last["songs"].first["voices"].first["key"]
    go = Array.new([count / 10, 3].max) do
      from = now.call
      post["#{one.show}/songs/low-tide-waltz/play", {}]
      (held.call - from).tap { post["/api/playing/stop", {}] }.tap { sleep 0.3 }
    end
    post["#{one.show}/songs/low-tide-waltz/play", {}]
    gain = Array.new(count) do |turn|
      from = now.call
      post["/api/playing/trim", {key: key, gain_db: -(turn % 7)}]
      (held.call - from).tap { sleep 0.03 + turn % 10 * 0.003 }
    end
    # Pressed 50 ms before the place: is it made there?
    behind = Array.new(count) do
      state, page = one.deck(do: "status")["playing"], clock.clock
      wanted = [page.frame - page.block_frames + (Timing.now_s - page.mono_s) * page.rate_hz, state["frame"]].max.round + 2_400
      post["/api/playing/jump", {frame: 300_000, at_frame: state["position_frames"] + wanted - state["frame"]}]
      sleep 0.15
      held.call - wanted
    end
    puts JSON.generate(presses: count, go_ms: {median: ms[Timing.median(go)], max: ms[go.max]},
      gain_ms: {median: ms[Timing.median(gain)], p95: ms[Timing.p95(gain)], max: ms[gain.max]},
      jumps_50_ms_before: {made_there: behind.count(&:zero?), late_ms: ms[behind.max]},
      late_blocks: one.deck(do: "status").dig("playing", "late_blocks"))
  ensure
    one&.stop
  end
end

what, number = ARGV
case what
when "bounce" then bounce(Integer(number || 5))
when "click" then click(Integer(number || 1))
when "jumps" then jumps(Integer(number || 10_000))
when "presses" then presses(Integer(number || 100))
else abort "bounce, click, jumps or presses"
end

# frozen_string_literal: true

# What many shows, songs and browsers cost, against few of them, in one run on one machine:
#
#   bundle exec ruby bench/library.rb [songs] [set] [shows] [browsers] [memory] [imports] [stems]
require "bundler/setup"
$stdout.sync = true
$LOAD_PATH.unshift File.expand_path("../spec", __dir__)
require "tmpdir"
require "support/installation"
require "support/wav_files"
require_relative "../boot/server"
require_relative "../demo/lanterns"
require_relative "timing"

module Loomshuttle
  # Each figure is the median of many, taken by turns where two are compared.
  module LibraryBench
    TURNS = 60

    extend Timing

    module_function

    def installation(*processes)
      folder = Dir.mktmpdir("loomshuttle-bench")
      File.chmod(0o711, folder)
      installation = Installation.new(folder).start(*processes, environment: {"LOOMSHUTTLE_SOURCES" => Dir.tmpdir})
      yield installation, Server::Store::Database.connect(installation.services.database_url)
    ensure
      installation&.stop
      FileUtils.rm_rf(folder)
    end

    # An edit of the patch without any song in the library, and with 300 of 12 stems, over HTTP.
    def songs
      installation("server") do |installation, database|
        edit = -> {
          version = installation.api("get", installation.show).last["version"]
          answer = nil
          wish = {version: version, loom: "patch", edit: {kind: "power", sockets: ["box-a/mic/5"], on: version.even?}}
          ms = timed { answer = installation.api("post", "#{installation.show}/edits", wish) }
          [ms, JSON.generate(answer.last).bytesize]
        }
        20.times { edit.call }
        few = Array.new(TURNS) { edit.call }
        fill_songs(database)
        10.times { edit.call }
        many = Array.new(TURNS) { edit.call }
        report("edit", few.map(&:first), many.map(&:first))
        puts "answer: #{few.last.last} bytes without, #{many.last.last} with; document #{database[:shows].where(id: 1).get(Sequel.function(:length, Sequel.cast(:document, String)))} bytes"
        listed = Array.new(20) { timed { installation.api("get", "/api/library/songs") } }
        puts format("songs of the library, 50 of 300: %.1f ms", median(listed))
      end
    end

    # A set list of 300 songs with 4,200 stems, sections and two arrangements each: every page that has to do with them, and the
    # checks alone, each on a show that was never looked at.
    def set
      installation("server") do |installation, database|
        fill_songs(database, stems: 14)
        version = installation.api("get", installation.show).last["version"]
        ids = Array.new(300) { |n| "song-#{n}" }
        raise unless installation.api("post", "#{installation.show}/edits", {version: version, edit: {kind: "set_list", songs: ids}}).first == 200

        ["", "/page?loom=tracks", "/roles", "/lineup", "/bounces", "/levels?target_lufs=-18", "/paper"].each do |path|
          # The answer alone: specs hold it against the contract as well.
          times = Array.new(10) { timed { Net::HTTP.get_response(URI("#{installation.address}#{installation.show}#{path}")) } }
          puts format("%-26s median %.0f ms, worst %.0f ms", path, median(times), times.max)
        end
        edit = -> {
          version = installation.api("get", installation.show).last["version"]
          wish = JSON.generate(version: version, edit: {kind: "listed", song: "song-7", talk_s: version})
          timed { Net::HTTP.post(URI("#{installation.address}#{installation.show}/edits"), wish, "content-type" => "application/json") }
        }
        puts format("an edit of the list: median %.0f ms", median(Array.new(10) { edit.call }))
        show = Server::Store::Shows.new(database, Server::Assembly.codec, Server::Changes.new(database)).load(1).show
        puts format("all checks: median %.0f ms", median(Array.new(10) { |n| show.with(name: "Fresh #{n}").then { |fresh| timed { Checks::All.findings(fresh) } } }))
      end
    end

    def fill_songs(database, stems: 12)
      store = Server::Store::Songs.new(database)
      count = stems
      300.times do |n|
        stems = Array.new(count) { |k| {name: "Stem #{k}", role: %w[click bass keys drums vocals][k % 5], file: "#{k}.wav", channels: 1 + k % 2, sample_rate_hz: 48_000, frames: 9_600_000} }
        store.create({id: "song-#{n}", title: "Song #{n}", bpm: 100, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 9_600_000, folder: "song-#{n}"}, stems)
      end
    end

    def report(what, few, many)
      puts format("%s: %.1f ms without, %.1f ms with, ratio %.2f", what, median(few), median(many), median(many) / median(few))
    end

    # The page of all shows with 1,000 of them and 20,000 takes.
    def shows
      installation("server") do |installation, database|
        fill_shows(database)
        [["first page", ""], ["search", "&search=ball%20hall"], ["page 11", "&from=500"]].each do |what, more|
          times = Array.new(30) { timed { installation.api("get", "/api/shows?limit=50#{more}") } }
          puts format("all shows, %s: median %.1f ms, p95 %.1f ms", what, median(times), p95(times))
        end
      end
    end

    def fill_shows(database)
      document = Sequel.pg_jsonb(Exchange::ShowFile.data(Demo.show).except(:songs, :roles))
      called = ->(n) { document.to_h.merge("name" => "#{%w[Ball Songs Tide][n % 3]} #{n}", "venue" => "Hall #{n % 40}") }
      rows = Array.new(1000) { |n| {document: Sequel.pg_jsonb(called[n]), folder: "show-#{n}"} }
      ids = rows.map { |row| database[:shows].insert(row) }
      same = {name: "Take", origin: "recorded", sample_rate_hz: 48_000, state: "closed", bytes: 1_000_000}
      takes = Array.new(20_000) { |n| {show_id: ids[n % 1000], number: n / 1000 + 1, uid: "bench-#{n}", folder: "bench/#{n}", **same} }
      takes.each_slice(1000) { |some| database[:takes].multi_insert(some) }
    end

    # 200 lines of events, all with levels 20 times a second, then all without: what a request waits, and what
    # the server takes.
    def browsers
      installation("standin", "engine", "server") do |installation, _|
        installation.wait("frames") { installation.api("get", "/api/ribbon").first == 200 }
        [["with all levels", "?rate_hz=20&lanes=all&desk=true"], ["with levels of 12 lanes", "?rate_hz=20&lanes=1-12"], ["without", ""]].each { |what, query| listeners(installation, what, query) }
      end
    end

    # The browsers are a process of their own, as they are: what they take is not the ping's.
    def listeners(installation, what, query)
      port = installation.services.ports["http"]
      said, says = IO.pipe
      pid = fork { listen(Array.new(200) { event_line(port, query) }, says) }
      said.gets
      cpu_s, began_s = cpu_s(installation.pid("server")), now_s
      # One that the server answers by itself, and one that asks the database.
      pings, asked = Net::HTTP.start("127.0.0.1", port) { |http| %w[/api/desk /api/tasks].map { |path| Array.new(300) { timed { http.get(path) }.tap { sleep 0.03 } } } }
      took_s = now_s - began_s
      share = 100 * (cpu_s(installation.pid("server")) - cpu_s) / took_s
      Process.kill("TERM", pid)
      bytes = said.gets.to_i
      puts format("200 browsers %s: ping median %.1f ms, p95 %.1f ms; with the database %.1f ms, p95 %.1f ms; server %.0f%% of a core; %.1f kB/s each",
        what, median(pings), p95(pings), median(asked), p95(asked), share, bytes / took_s / 200 / 1000)
    ensure
      Process.wait(pid)
    end

    def listen(lines, says)
      bytes = 0
      trap("TERM") do
        says.puts bytes
        exit!(0)
      end
      says.puts "listening"
      loop { IO.select(lines, nil, nil, 1)&.first&.each { |io| bytes += io.read_nonblock(1 << 16, exception: false).to_s.bytesize } }
    end

    def event_line(port, query)
      socket = TCPSocket.new("127.0.0.1", port)
      socket.write("GET /api/events#{query} HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
      socket
    end

    def cpu_s(pid) = File.read("/proc/#{pid}/stat").split.values_at(13, 14).sum(&:to_i) / 100.0

    # 2,004 files (LOOMSHUTTLE_TAKES: of how many takes) at another rate, twelve a take, against the decoders alone, with as many at once as there are
    # cores; then the same beside a recording of 32 lanes.
    def imports
      sources = Dir.mktmpdir("loomshuttle-files")
      folders = Array.new(Integer(ENV.fetch("LOOMSHUTTLE_TAKES", "167"))) { |n| File.join(sources, "night-#{n}").tap { |folder| Dir.mkdir(folder) } }
      samples = Array.new(IMPORT_S * 44_100) { |n| (10_000 * Math.sin(n * 0.05)).round }
      bytes = WavFiles.pcm16(samples, rate: 44_100)
      folders.each { |folder| 12.times { |n| File.binwrite(File.join(folder, format("%02d.wav", n + 1)), bytes) } }
      decoders_s = [1, 12].to_h { |together| [together, decode_alone(sources, together)] }
      installation("standin", "engine", "server", "worker") { |installation, _| report_imports("alone", installation, folders, decoders_s) }
      installation("standin", "engine", "server", "worker") do |installation, _|
        record(installation, 32)
        report_imports("beside 32 lanes", installation, folders, decoders_s)
        before = installation.engine(do: "status")
        last = installation.engine(do: "stop")
        puts format("recording meanwhile: %.0f s, %d blocks lost, %d frames lost by the device, longest block %.1f ms", last["frames"] / 48_000.0, last["lost_blocks"], before["device"]["lost_in_frames"], before["device"]["longest_ms"])
      end
    ensure
      FileUtils.rm_rf(sources)
    end

    IMPORT_S = 5

    # @param together [Integer] files a process
    # @return [Float] seconds
    def decode_alone(sources, together)
      target = Dir.mktmpdir("loomshuttle-decoded")
      handfuls = Dir[File.join(sources, "*/*.wav")].sort.each_with_index.each_slice(together)
      timed do
        Parallel.each(handfuls.to_a, in_threads: Etc.nprocessors) do |handful|
          to_take = %w[-af aresample=resampler=soxr:precision=28 -ar 48000 -c:a pcm_s24le -rf64 auto -f wav]
          outputs = handful.flat_map { |_, at| ["-map", "#{at - handful.first.last}:a:0"] + to_take + [File.join(target, "#{at}.wav")] }
          system("nice", "-n", "10", "ffmpeg", "-nostdin", "-v", "error", "-y", *handful.flat_map { |path, _| ["-i", path] }, *outputs, exception: true)
        end
      end / 1000
    ensure
      FileUtils.rm_rf(target)
    end

    # Four songs of twelve stereo stems of a minute taken in, against the decoders alone; and until loudness and true peak of each
    # stem and of all together are known as well.
    def stems
      sources = Dir.mktmpdir("loomshuttle-songs")
      noise = Random.new(5)
      folders = Array.new(4) { |n| File.join(sources, "song-#{n}").tap { |path| Dir.mkdir(path) } }
      samples = Array.new(2 * 60 * 44_100) { noise.rand(-8_000..8_000) }
      folders.each { |folder| 12.times { |n| File.binwrite(File.join(folder, format("%02d Pad.wav", n + 1)), WavFiles.pcm16(samples, rate: 44_100, channels: 2)) } }
      decoders_s = decode_alone(sources, 1)
      installation("server", "worker") do |installation, _|
        began_s = now_s
        folders.map { |folder| make_song(installation, folder) }.each { |task| done(installation, task) }
        made_s = now_s - began_s
        installation.wait("the measures", seconds: 600) { installation.api("get", "/api/library/songs").last["songs"].count { |song| song["loudness_lufs"] } >= folders.size }
        puts format("48 stems of a minute: four songs made after %.0f s, %.2f of the decoders alone (%.0f s); measured after %.0f s, %.2f",
          made_s, made_s / decoders_s, decoders_s, now_s - began_s, (now_s - began_s) / decoders_s)
      end
    ensure
      FileUtils.rm_rf(sources)
    end

    # @return [Integer] the task that does it
    def make_song(installation, folder)
      id = installation.api("post", "/api/library/imports", {folder: folder}).last.fetch("id")
      import = "/api/library/imports/#{id}"
      plan = installation.wait("the look", seconds: 600) { installation.api("get", import).last.then { |now| now if now["files"].all? { |file| file["holds"] } } }
      stems = plan["files"].map { |file| {file: file["number"], name: "Pad #{file["number"]}", role: "pad"} }
      installation.api("post", "#{import}/accept", {title: File.basename(folder), stems: stems}).last.fetch("task")
    end

    def done(installation, task) = installation.wait("task #{task}", seconds: 3600) { ended?(installation.api("get", "/api/tasks/#{task}").last) }

    def record(installation, lanes)
      installation.wait("the device") { installation.engine(do: "status").dig("device", "state") == "running" }
      tracks = (1..lanes).map { |lane| {key: "rec/track/#{lane}", name: "Lane #{lane}", file: format("%02d Lane %d", lane, lane), lanes: [lane]} }
      installation.engine(do: "record", plan: {uid: SecureRandom.uuid, number: 1, show: "night", sample_rate_hz: 48_000, margin_bytes: 1_000_000, tracks: tracks})
    end

    def report_imports(what, installation, folders, decoders_s)
      seconds = timed { bring_in(installation, folders) } / 1000
      ratios = decoders_s.map { |together, alone_s| format("%.2f of the decoders alone with %d a process (%.0f s)", seconds / alone_s, together, alone_s) }
      puts format("%d files %s: %.0f s; %s", folders.size * 12, what, seconds, ratios.join(", "))
    end

    def bring_in(installation, folders)
      imports = "#{installation.show}/imports"
      ids = folders.map { |folder| installation.api("post", imports, {folder: folder}).last.fetch("id") }
      tasks = ids.map do |id|
        plan = installation.wait("the look", seconds: 3600) { installation.api("get", "#{imports}/#{id}").last.then { |now| now if now["files"].all? { |file| file["holds"] } } }
        places = plan["tracks"].each_with_index.map { |track, at| {file: at + 1, channel: 1, track: track["id"]} }
        installation.api("post", "#{imports}/#{id}/accept", {places: places, convert: true}).last.fetch("task")
      end
      tasks.each { |task| done(installation, task) }
    end

    def ended?(task)
      raise "#{task["subject"]}: #{task["words"]}" if task["state"] == "failed"

      task["state"] == "done"
    end

    # All processes of an idle show of 32 lanes; what they share is counted once (PSS).
    def memory
      installation("standin", "engine", "server", "worker") do |installation, _|
        installation.wait("frames") { installation.api("get", "/api/ribbon").first == 200 }
        sleep 20
        sums = %w[standin engine deck server worker].to_h { |name| [name, pss_mb(installation.pid(name))] }
        sums["postgres"] = postgres_pids(installation).sum { |pid| pss_mb(pid) }
        puts sums.map { |name, mb| format("%s %.0f", name, mb) }.join(", "), format("all together %.0f MB", sums.values.sum)
      end
    end

    def postgres_pids(installation)
      Dir["/proc/[0-9]*"].select { |path| of_cluster?(path, File.basename(installation.folder)) }.map { |path| File.basename(path).to_i }
    end

    def of_cluster?(path, folder)
      File.readlink(File.join(path, "cwd")).include?(folder) && File.read(File.join(path, "cmdline")).include?("postgres")
    rescue SystemCallError
      false
    end

    def pss_mb(pid) = File.read("/proc/#{pid}/smaps_rollup")[/^Pss:\s+(\d+)/, 1].to_i / 1024.0
  end
end

(ARGV.empty? ? %w[songs shows browsers memory] : ARGV).each { |name| Loomshuttle::LibraryBench.public_send(name) }

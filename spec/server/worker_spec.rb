# frozen_string_literal: true

require "core_helper"
require "support/damaged_wav"
require "support/with_a_worker"
require "support/wav_files"
require "open3"
require "zip"
require_relative "../../boot/server"

# The real worker over the real database, with ffmpeg, asked for over HTTP; killed in the middle.
RSpec.describe "The worker" do
  include_context "with a worker"

  def imports = "#{@installation.show}/imports"
  def takes = api("get", "#{@installation.show}/takes").last["takes"]

  # Opens an import and brings each file in parts of so many bytes.
  def bring(files, part_bytes: 1_000_000)
    id = api("post", imports, {files: files.map { |name, bytes| {name: name, bytes: bytes.bytesize} }}).last.fetch("id")
    answers = files.each_with_index.map { |(_, bytes), at| parts(id, at + 1, bytes, part_bytes) }
    [id, answers]
  end

  def parts(id, number, bytes, part_bytes)
    from = 0
    loop do
      status, answer = put(id, number, from, bytes.byteslice(from, part_bytes))
      return [status, answer] if status != 200 || answer["landed"] == bytes.bytesize

      from = answer["landed"]
    end
  end

  def put(id, number, from, bytes) = @installation.api("put", "#{imports}/#{id}/files/#{number}?from=#{from}", bytes.b)
  def plan(id) = api("get", "#{imports}/#{id}").last
  def places(id) = plan(id)["matched"].map { |place| place.slice("file", "channel", "track") }
  def accept(id, places, **more) = api("post", "#{imports}/#{id}/accept", {places: places, **more})
  def import_folders = Dir.children(File.join(@folder, "import"))
  def tone(seconds, rate: 48_000) = WavFiles.pcm16(Array.new((seconds * rate).to_i) { |n| (10_000 * Math.sin(n * 2 * Math::PI * 440 / rate)).round }, rate: rate)

  # What another example settled by hand would be known here.
  before do
    database = Loomshuttle::Server::Store::Database.connect(@installation.services.database_url)
    database[:soundchecks].delete
  ensure
    database&.disconnect
  end

  describe "bringing in a recording" do
    it "takes it in parts, checks, matches by name, lets the rest be settled by hand, and keeps every bit" do
      before = import_folders
      id, answers = bring({"01 Hurdy gurdy.wav" => WavFiles.pcm16([1, 2, 3]), "cimbalom.wav" => WavFiles.pcm16([1, 2, 3, 4], channels: 2), "mystery.wav" => WavFiles.pcm16([5, 6])}, part_bytes: 17)
      expect(answers.map(&:first)).to eq([200, 200, 200])
      expect(plan(id)["matched"].map { |place| place["track"] }).to match_array(%w[rec/track/1 rec/track/2 rec/track/3])
      expect(plan(id)["loose"]).to eq([{"file" => 3, "channel" => 1, "why" => "no track is called so"}])
      status, answer = accept(id, places(id) + [{file: 3, channel: 1, track: "rec/track/12"}], name: "From elsewhere")
      expect([status, ended(answer["task"])["state"]]).to eq([200, "done"])
      take = takes.find { |one| one["name"] == "From elsewhere" }
      expect([take["origin"], take["frames"], take["files"].size, take["state"]]).to eq(["imported", 3, 4, "closed"])
      expect(File.binread(File.join(@folder, "takes", take["folder"], "mystery.wav"))).to eq(WavFiles.pcm16([5, 6]))
      @installation.wait("the landed files to go") { (import_folders - before).empty? }
      expect(api("post", "#{@installation.show}/takes/#{take["id"]}/verify", {}).last["fine"]).to be(true)
    end

    it "begins files when the time of day in them says so, or by hand, and knows what was settled in the next folder" do
      bwf = ->(samples, at) { WavFiles.riff(WavFiles.chunk("bext", ("\0" * 338) + [at].pack("Q<") + ("\0" * 256)), WavFiles.fmt(1, 1, 48_000, 16), WavFiles.chunk("data", samples.pack("s<*"))) }
      times = {"tuba" => 1_000_000, "kick" => 1_002_048, "snare" => 1_000_000, "dings" => 1_000_000}
      id, = bring(times.map.with_index(1) { |(name, at), n| ["Mond-0#{n}_#{name}.wav", bwf[[n] * 3000, at]] }.to_h)
      expect(plan(id)["starts"].map { |one| one["at_frames"] }).to eq([0, 2048, 0, 0])
      starts = plan(id)["starts"].to_h { |one| one.values_at("file", "at_frames") }
      starts[4] += 480
      # What is refused is not learnt either.
      expect(accept(id, [{file: 4, channel: 1, track: "rec/track/11"}, {file: 1, channel: 1, track: "rec/track/11"}]).first).to eq(422)
      expect(plan(id)["loose"].map { |one| one["file"] }).to eq([4])
      settled = (places(id) + [{"file" => 4, "channel" => 1, "track" => "rec/track/11"}]).map { |place| place.merge("at_frames" => starts[place["file"]]) }
      expect(ended(accept(id, settled, name: "Moon").last["task"])["state"]).to eq("done")
      take = takes.find { |one| one["name"] == "Moon" }
      expect(take["frames"]).to eq(5048)
      expect(take["files"].to_h { |file| file.values_at("track", "at_frames") }).to eq("rec/track/4" => 0, "rec/track/5" => 2048, "rec/track/6" => 0, "rec/track/11" => 480)
      again, = bring({"Sonne-04_dings.wav" => tone(0.1), "Sonne-02_kick.wav" => tone(0.1), "Sonne-01_tuba.wav" => tone(0.1), "Sonne-03_snare.wav" => tone(0.1)})
      expect(plan(again)["matched"].find { |one| one["file"] == 1 }).to include("track" => "rec/track/11", "why" => "settled so before", "sure" => true)
      expect(plan(again)["starts"].map { |one| one["at_frames"] }).to eq([0, 0, 0, 0])
      api("delete", "#{imports}/#{again}")
    end

    it "matches the newest of several takes in one folder, or the one that somebody chooses" do
      id, = bring(%w[Kick Snare Tuba].flat_map { |name| ["#{name}_001.wav", "#{name}_002.wav"] }.to_h { |name| [name, WavFiles.pcm16([1, 2, 3])] })
      files = ->(found) { found["matched"].map { |one| found["files"].find { |file| file["number"] == one["file"] }["title"] } }
      expect([files[plan(id)], plan(id).values_at("takes", "take")]).to eq([%w[Kick_002.wav Snare_002.wav Tuba_002.wav], [[1, 2], 2]])
      expect(files[api("get", "#{imports}/#{id}?take=1").last]).to eq(%w[Kick_001.wav Snare_001.wav Tuba_001.wav])
      api("delete", "#{imports}/#{id}")
    end

    it "takes an archive with the list that was sent along, and what is in it as if it had come alone" do
      bytes = Zip::OutputStream.write_buffer { |zip|
        {"evening/Track 01.wav" => tone(0.1), "evening/Track 02.wav" => tone(0.2), "evening/inputs.csv" => "No,Name\n1,Tuba\n2,Narrator\n", "evening/plan.pdf" => "x",
         "evening/Track 03.wav" => "none"}.each do |name, body|
          zip.put_next_entry(name)
          zip.write(body)
        end
      }.string
      id, answers = bring({"evening.zip" => bytes}, part_bytes: 5_000)
      expect(answers.map(&:first)).to eq([200])
      ended(@installation.wait("the task") { plan(id)["task"] })
      found = plan(id)
      names = found["tracks"].to_h { |track| track.values_at("id", "name") }
      titles = found["files"].to_h { |file| file.values_at("number", "title") }
      expect(found["matched"].to_h { |one| [titles[one["file"]], names[one["track"]]] }).to eq("Track 01.wav" => "Tuba", "Track 02.wav" => "Narrator")
      expect([found["list"], found["files"].filter_map { |file| file["fault"] && file["title"] }]).to eq(["inputs.csv", ["Track 03.wav"]])
      expect(ended(accept(id, places(id), name: "Sent").last["task"])["state"]).to eq("done")
      take = takes.find { |one| one["name"] == "Sent" }
      expect(take["files"].map { |file| File.binread(File.join(@folder, "takes", take["folder"], file["file"])) }).to match_array([tone(0.1), tone(0.2)])
    end

    it "says of an archive that is none why, and finds by ear when a file began" do
      heard = Random.new(2).then { |random| Array.new(60_000) { random.rand(-9000..9000) } }
      id, = bring({"none.zip" => "none", "Tuba.wav" => WavFiles.pcm16(heard), "Narrator.wav" => WavFiles.pcm16(heard.drop(4321).map { |sample| sample / 3 })})
      ended(@installation.wait("the task") { plan(id)["task"] })
      expect(plan(id)["files"].map { |file| file["fault"].to_s[/ZIP/] }).to eq(["ZIP", nil, nil])
      offset = ->(part, like) { api("post", "#{imports}/#{id}/offset", {part: {file: part, channel: 1}, like: {file: like, channel: 1}}).last }
      expect([offset[3, 2], offset[2, 3]]).to eq([{"later_frames" => 4321}, {"later_frames" => -4321}])
      expect(offset[1, 2].dig("error", "field")).to eq("file")
    end

    it "works out levels and waveforms of what came" do
      bytes = WavFiles.pcm16(Array.new(48_000) { |n| (n < 24_000) ? 16_384 : 0 })
      id, = bring({"kick.wav" => bytes})
      expect(ended(accept(id, [{file: 1, channel: 1, track: "rec/track/5"}], name: "Levels").last["task"])["state"]).to eq("done")
      take = takes.find { |one| one["name"] == "Levels" }
      expect(take["files"].first["report"]).to include("peak_dbfs" => be_within(0.02).of(-6.02), "clips" => 0, "silence_s" => 0.5)
      picture = api("get", "#{@installation.show}/takes/#{take["id"]}/overview?points=4").last["tracks"].first["points"]
      expect(picture.map(&:last)).to eq([16_384, 16_384, 16_384, 0])
    end

    it "goes on where a part was lost, and takes none twice or out of turn" do
      bytes = tone(1)
      id = api("post", imports, {files: [{name: "kick.wav", bytes: bytes.bytesize}]}).last["id"]
      expect(put(id, 1, 0, bytes.byteslice(0, 1000)).last["landed"]).to eq(1000)
      expect(put(id, 1, 0, bytes.byteslice(0, 1000)).last["error"]["message"]).to include("1000, where the last part ended")
      expect(put(id, 1, 5000, bytes.byteslice(5000, 1000)).first).to eq(422)
      expect(plan(id)["files"].first).to include("landed" => 1000, "holds" => nil)
      # More than was announced is not kept.
      expect(put(id, 1, 1000, bytes.byteslice(1000..) + "more").last).to include("landed" => bytes.bytesize, "holds" => include("frames" => 48_000))
    end

    it "says of each file that is none why, and takes the others" do
      id, answers = bring({"notes.wav" => "hello there", "empty.wav" => WavFiles.pcm16([]), "kick.wav" => WavFiles.pcm16([1])})
      expect(answers.map { |_, one| one["fault"].to_s }).to match([/notes.wav.*begins with RIFF/, /holds samples/, ""])
      expect([plan(id)["files"].map { |file| file["fault"].nil? }, plan(id)["matched"].size]).to eq([[false, false, true], 1])
      expect(accept(id, [{file: 1, channel: 1, track: "rec/track/1"}]).last["error"]["message"]).to include("a file of this import that could be read")
      expect(accept(id, []).last["error"]["message"]).to include("at least one file")
    end

    # F9: one file poisoned the import for good.
    it "is spoilt by no damaged file" do
      damaged = DamagedWav.enum_for(:each).to_a.sample(60, random: Random.new(9))
      id, answers = bring(damaged.to_h { |name, bytes| ["#{name}.wav", bytes] }.merge("kick.wav" => WavFiles.pcm16([1])))
      expect(answers.map(&:first).uniq).to eq([200])
      # A damaged one that can still be read tells by its iXML that it is the kick too: one of the two, and not for sure.
      expect(plan(id)["files"].last["fault"]).to be_nil
      expect(plan(id)["matched"].map { |place| place.values_at("track", "sure") }).to eq([["rec/track/5", false]])
    end

    it "gives names that are long, odd or there twice a safe form, and does not lose them" do
      long = "#{"é" * 300}.wav"
      names = ["kick.wav", "kick.wav", long, "..sneaky 🎻.wav", "../../up.wav"]
      id = api("post", imports, {files: names.map { |name| {name: name, bytes: 46} }}).last["id"]
      names.each_index { |at| put(id, at + 1, 0, WavFiles.pcm16([at])) }
      places = (1..5).map { |number| {file: number, channel: 1, track: "rec/track/#{number}"} }
      expect(ended(accept(id, places, name: "Odd names").last["task"])["state"]).to eq("done")
      take = takes.find { |one| one["name"] == "Odd names" }
      expect(take["files"].map { |file| file["name"] }).to eq(["kick", "kick", "é" * 300, "..sneaky 🎻", "../../up"])
      expect(Dir.children(File.join(@folder, "takes", take["folder"])).sort).to include("kick (2).wav", "kick.wav", "sneaky 🎻.wav")
      expect(Dir.glob("**/*up*", base: @folder).size).to eq(1)
    end

    it "converts another rate only when it is told to; its pitch stays, and its length is what it should be" do
      id, = bring({"kick.wav" => tone(2, rate: 44_100), "snare.wav" => WavFiles.pcm16([1])})
      place = [{file: 1, channel: 1, track: "rec/track/5"}]
      expect([plan(id)["rate_faults"], accept(id, place).last["error"]["message"]]).to match([[1], /44100 Hz/])
      expect(ended(accept(id, place, convert: true, name: "Converted").last["task"])["state"]).to eq("done")
      take = takes.find { |one| one["name"] == "Converted" }
      path = File.join(@folder, "takes", take["folder"], "kick.wav")
      expect(Open3.capture2("ffprobe", "-v", "error", "-show_entries", "stream=sample_rate,codec_name", "-of", "csv=p=0", path).first.strip).to eq("pcm_s24le,48000")
      expect(take["frames"]).to be_within(2).of(96_000)
      samples = File.open(path, "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).read_s32(0, 96_000)[true, 0] }
      crossings = (0...(samples.size - 1)).count { |n| samples[n] < 0 && samples[n + 1] >= 0 }
      expect(crossings).to be_within(1).of(880)
    end

    it "converts short files together and long ones alone; each keeps its own sound, and one that cannot be read is named" do
      # Seconds and rate of each; a height of its own tells each from the others.
      kinds = [[0.2, 44_100], [0.1, 48_000], [0.3, 96_000], [0.2, 44_100], [60, 32_000], [0.1, 22_050], [0.5, 44_100], [0.2, 88_200], [0.1, 48_000]]
      files = kinds.map.with_index(1) { |(seconds, rate), n| ["x#{n}.wav", WavFiles.pcm16([n * 1000] * (seconds * rate).round, rate: rate)] }.to_h
      id, = bring(files, part_bytes: 8_000_000)
      placed = (1..kinds.size).map { |n| {file: n, channel: 1, track: "rec/track/#{n}"} }
      path = Dir.glob(File.join(@folder, "import/*/6")).max_by { |one| File.mtime(one) }
      kept = File.binread(path)
      File.write(path, "somebody wrote over it")
      failed = ended(accept(id, placed, convert: true, name: "Many").last["task"])
      expect(failed).to include("state" => "failed", "words" => /\Ax6.wav.*a file that ffmpeg can read/)
      File.binwrite(path, kept)
      api("post", "/api/tasks/#{failed["id"]}/again", {})
      expect(ended(failed["id"])["state"]).to eq("done")
      take = takes.find { |one| one["name"] == "Many" }
      samples = (1..kinds.size).map { |n| File.open(File.join(@folder, "takes", take["folder"], "x#{n}.wav"), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| reader.read_s32(0, reader.frames)[true, 0] } } }
      expect(samples.map(&:size).zip(kinds).map { |size, (seconds, _)| (size - seconds * 48_000).abs }.max).to be <= 2
      # In the middle, away from where a filter sets in.
      expect(samples.map { |all| (all[all.size / 2] / 65_536.0 / 1000).round(2) }).to eq((1..kinds.size).map(&:to_f))
    end

    it "leaves nothing of an import that nobody wants" do
      before = import_folders
      id, = bring({"kick.wav" => tone(1)})
      expect(import_folders.size).to eq(before.size + 1)
      expect(api("delete", "#{imports}/#{id}").first).to eq(200)
      expect([import_folders, api("get", "#{imports}/#{id}").first]).to eq([before, 422])
    end

    it "takes a folder of this machine where it lies, and no other" do
      night = File.join(@sources, "night").tap { |path| Dir.mkdir(path) }
      File.binwrite(File.join(night, "Accordion.wav"), tone(1))
      File.write(File.join(night, "readme.txt"), "hello")
      File.write(File.join(night, "broken.wav"), "hello")
      File.symlink("/etc", File.join(@sources, "etc"))
      expect(api("get", "/api/library/folders").last["folders"].map { |one| one["path"] }).to include(@sources)
      expect(api("get", "/api/library/folders?path=#{@sources}").last["folders"].map { |one| one["name"] }).to eq(%w[etc night])
      ["/etc", File.join(@sources, "etc"), File.join(@sources, "../.."), "no\u0000"].each { |path| expect(api("post", imports, {folder: path}).first).to be_between(400, 422) }
      id = api("post", imports, {folder: night}).last["id"]
      @installation.wait("the look") { plan(id)["files"].all? { |file| file["holds"] || file["fault"] } }
      expect(plan(id)["files"].map { |file| file["title"] }).to eq(%w[Accordion.wav broken.wav])
      expect(ended(accept(id, places(id), name: "Stick").last["task"])["state"]).to eq("done")
      take = takes.find { |one| one["name"] == "Stick" }
      expect(take["files"].map { |file| file["track"] }).to eq(["rec/track/9"])
      expect(FileUtils.identical?(File.join(@folder, "takes", take["folder"], "Accordion.wav"), File.join(night, "Accordion.wav"))).to be(true)
      expect(Dir.children(night).size).to eq(3)
    end
  end

  describe "a task" do
    # So long that it can be met on its way, and each file one for itself.
    def long_import(name)
      bytes = tone(50, rate: 44_100)
      id, = bring((1..12).to_h { |n| ["#{n}.wav", bytes] }, part_bytes: 8_000_000)
      [id, accept(id, (1..12).map { |n| {file: n, channel: 1, track: "rec/track/#{n}"} }, convert: true, name: name).last["task"]]
    end

    def under_way(task_id)
      @installation.wait("the task under way") { task(task_id).then { |one| one["state"] == "running" && one["done"] >= 2 } }
    end

    def leftovers = Dir.glob(".making-*", File::FNM_DOTMATCH, base: File.join(@folder, "takes"))

    it "tells how far it is and how long it takes, and is stopped without a trace" do
      _, task_id = long_import("Stopped")
      under_way(task_id)
      expect(task(task_id)).to include("of" => 12, "unit" => "files", "left_s" => be_a(Integer), "kind" => "import_take", "subject" => /Taking in Stopped for Lanterns/)
      expect(api("get", "/api/tasks").last.map { |one| one["id"] }).to include(task_id)
      api("post", "/api/tasks/#{task_id}/stop", {})
      expect(ended(task_id)["state"]).to eq("stopped")
      expect([takes.any? { |one| one["name"] == "Stopped" }, leftovers]).to eq([false, []])
      expect(@installation.wait("the files to go") { import_folders.none? { |name| Dir.children(File.join(@folder, "import", name)).size == 12 } }).to be(true)
    end

    it "several of one show that end at the same moment have a number each" do
      uploads = Array.new(8) { |n| bring({"kick.wav" => WavFiles.pcm16([n, 1, 2])}).first }
      before = takes.map { |one| one["number"] }
      tasks = uploads.map { |id| accept(id, [{file: 1, channel: 1, track: "rec/track/5"}]).last["task"] }
      expect(tasks.map { |id| ended(id)["state"] }).to eq(["done"] * 8)
      made = takes.reject { |one| before.include?(one["number"]) }
      expect(made.map { |one| one["number"] }.uniq.size).to eq(8)
      expect(made.map { |one| one["name"] }).to match_array(made.map { |one| "Take #{one["number"]}" })
    end

    it "killed at any moment begins again, and its effect is there exactly once" do
      _, task_id = long_import("Killed")
      3.times do
        under_way(task_id) if task(task_id)["state"] != "done"
        @installation.kill("worker")
        @installation.start("worker")
      end
      expect(ended(task_id)).to include("state" => "done", "of" => 12)
      expect([takes.count { |one| one["name"] == "Killed" }, leftovers]).to eq([1, []])
    end

    it "goes on when database, worker and server were killed under it" do
      _, task_id = long_import("Database")
      under_way(task_id)
      @installation.kill("server")
      @installation.stop_database
      @installation.kill("worker")
      @installation.restart_database
      @installation.start("server", environment: {"LOOMSHUTTLE_SOURCES" => @sources}).start("worker")
      expect(ended(task_id)["state"]).to eq("done")
      expect(takes.count { |one| one["name"] == "Database" }).to eq(1)
    end

    it "that failed says why, and can be tried again" do
      bytes = tone(1, rate: 44_100)
      id, = bring({"kick.wav" => bytes})
      path = Dir.glob(File.join(@folder, "import/*/1")).max_by { |one| File.mtime(one) }
      File.write(path, "somebody wrote over it")
      task_id = accept(id, [{file: 1, channel: 1, track: "rec/track/5"}], convert: true, name: "Again").last["task"]
      expect(ended(task_id)).to include("state" => "failed", "words" => /kick.wav.*a file that ffmpeg can read/)
      File.binwrite(path, bytes)
      api("post", "/api/tasks/#{task_id}/again", {})
      expect(ended(task_id)["state"]).to eq("done")
      expect(takes.count { |one| one["name"] == "Again" }).to eq(1)
      expect(api("post", "/api/tasks/#{task_id}/again", {}).last["error"]["message"]).to include("a task that failed")
      expect(api("post", "/api/tasks/#{task_id}/seen", {}).last["ok"]).to be(true)
      expect(api("get", "/api/tasks").last.map { |one| one["id"] }).not_to include(task_id)
    end

    it "is given up when it ends the worker time and again" do
      database = Loomshuttle::Server::Store::Database.connect(@installation.services.database_url)
      tasks = Loomshuttle::Server::Store::Tasks.new(database)
      database.transaction do
        id = tasks.begin("import_take", "Poison", import: 0)
        database[:tasks].where(id: id).update(starts: 5)
        @poison = id
      end
      expect(ended(@poison)).to include("state" => "failed", "words" => /broken off 5 times/)
    ensure
      database&.disconnect
    end
  end

  it "sweeps what was left for a day and what nobody knows, and nothing else" do
    database = Loomshuttle::Server::Store::Database.connect(@installation.services.database_url)
    imports = Loomshuttle::Server::Store::Imports.new(database)
    young, old = bring({"a.wav" => tone(1)}).first, bring({"b.wav" => tone(1)}).first
    FileUtils.mkdir_p(File.join(@folder, "import/foreign"))
    database[:imports].where(id: old).update(touched_at: Time.now - 25 * 3600)
    Loomshuttle::Server::Actions::Landing.new(imports: imports, tasks: nil, folders: nil, data_folder: @folder, show_file: nil).sweep
    expect([plan(young)["files"].size, api("get", "#{@installation.show}/imports/#{old}").first]).to eq([1, 422])
    expect(import_folders.sort - imports.uids).to eq([])
  ensure
    database&.disconnect
  end
end

# frozen_string_literal: true

require "core_helper"
require "open3"
require "support/forked_command"
require "support/shows_by_others"
require "support/wav_files"

RSpec.describe "bin/loomshuttle" do
  # As the program would, but for its start, which takes a second each time; the program itself is begun below.
  #
  # @return [Array(String, String, Integer)] standard output, standard error, exit code
  def run(*arguments) = ForkedCommand.run { Loomshuttle::Cli::App.start(arguments) }

  def program(*arguments)
    Open3.capture3(File.join(Loomshuttle::ROOT, "bin/loomshuttle"), *arguments).then { |out, err, status| [out, err, status.exitstatus] }
  end

  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:demo) { File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json") }

  def file(name, content) = File.join(@folder, name).tap { |path| File.binwrite(path, content) }

  it "checks a show: 1 for findings of severity stop, 0 without" do
    out, _, code = run("check", demo, "--json")
    expect([JSON.parse(out).map { |one| one["rule"] }, code]).to eq([%w[silent-lane click-reach spare-lanes], 1])
    printed = Loomshuttle::Checks::All.findings(show).find { |one| one.rule == "spare-lanes" }.mend.edit.apply(show)
    expect(run("check", file("fine.loom.json", Loomshuttle::Exchange::ShowFile.write(printed)))).to eq(["nothing found\n", "", 0])
  end

  it "says which version it is, and shows each command with an example that works" do
    expect(program("--version")).to eq(["Loomshuttle 0.1.0\n", "", 0])
    expect(program("help").first).to include("help COMMAND shows each with an example")
    example = run("help", "check").first[/^Example: bin\/loomshuttle (.*)$/, 1]
    expect(program(*example.split).last).to eq(1)
    expect(program("check", file("none.loom.json", "{"))).to match(["", /\A.+\n\z/, 2])
  end

  it "tells every fault of a file on a line of its own" do
    spoilt = JSON.parse(File.read(demo)).tap { |data| data["rows"][0]["pair"] = data["tracks"][0]["row"] = "list/row/99" }
    _, error, code = run("check", file("spoilt.loom.json", JSON.generate(spoilt)))
    expect([error.lines.size, error, code]).to match([2, %r{rows/list/row/1/pair: "list/row/99".*\n.*tracks/rec/track/1/row}, 2])
  end

  # What it prints names things by their names, so ids of random text change nothing of it.
  it "says the same of a show whose ids are random text" do
    plain = file("plain.loom.json", JSON.generate(Loomshuttle::Demo.mended.merge(name: "Ids of random text")))
    data = ShowsByOthers.random_text(RSpec.configuration.seed)
    odd = file("odd.loom.json", JSON.generate(data))
    # The swing names places, as whoever writes a command does: by the gear they are on.
    gear = data["devices"].map { |device| device["id"] }.zip(Loomshuttle::Demo.devices.map { |device| device[:id] })
    as_planned = ->(text) { gear.inject(text) { |now, (id, known)| now.gsub(%r{\b#{id}(?=/)}, known) } }
    said = lambda { |show, command, *words|
      run(command, show, *words).map { |out| out.is_a?(String) ? as_planned[out] : out }
    }
    [%w[check], %w[swing --to recorder], %w[budget]].each do |words|
      expect(said[odd, *words]).to eq(said[plain, *words])
    end
    rows = data["rows"].map { |row| row["id"] }
    expect(said[odd, "trace", rows[8]]).to eq(said[plain, "trace", "list/row/9"])
    sheets = [odd, plain].map do |show|
      folder = Dir.mktmpdir("sheets", @folder)
      expect(said[show, "paper", "--csv", folder].last).to eq(0)
      Dir[File.join(folder, "*")].map { |path| File.read(path) }
    end
    expect(sheets.first).to match_array(sheets.last)
    wavs = Dir.mktmpdir("wavs", @folder)
    File.binwrite(File.join(wavs, "09 Accordion.wav"), WavFiles.pcm16([1] * 480))
    matched = JSON.generate(JSON.parse(said[odd, "match", wavs, "--json"].first))
    expect(matched).to include(JSON.generate(data["tracks"][8]["id"]))
  end

  it "traces both ways" do
    expect(run("trace", demo, "list/row/9").first).to start_with("Accordion goes Box A socket 9")
    out, _, code = run("trace", demo, "rec/track/1", "--back", "--json")
    expect([JSON.parse(out)["ends"], code]).to eq([[{"id" => "list/row/1", "why" => "a source of the input list"}], 0])
  end

  describe "click" do
    def made(*arguments, name: "click.wav") = run("click", *arguments, "--out", File.join(@folder, name))
    def samples(name = "click.wav") = IO.popen(["sox", File.join(@folder, name), "-t", "s32", "-"], "rb") { |io| Numo::Int32.from_binary(io.read) }
    # Where somebody hears a click begin, by what sox reads: the first sample behind so much that is nearly nothing.
    def onsets(heard, still) = heard.abs.gt(2**23).where.to_a.each_cons(2).select { |one, other| other - one > still }.map(&:last).unshift(heard.abs.gt(2**23).where[0])

    # A beat at b bpm lasts 60/b s: exact arithmetic, rounded once.
    it "lies where exact arithmetic puts it, to the sample, as sox reads it, with accents louder and the count-in before" do
      _, error, code = made("--bpm", "127", "--meter", "3/4", "--bars", "5", "--count-in", "1", "--rate", "44100", "--json")
      expect([error, code]).to eq(["", 0])
      heard = samples
      exact = ->(beat) { (Rational(60 * 44_100, 127) * beat).round }
      expect([heard.size, onsets(heard, 3_000)]).to eq([exact[18], (0...18).map(&exact)])
      peaks = (0...18).map { |beat| heard[exact[beat]...(exact[beat] + 1_000)].abs.max }
      expect(peaks.map { |peak| (peak > peaks.min * 1.2) ? "A" : "b" }.join).to eq("Abb" * 6)
      expect(run("inspect", File.join(@folder, "click.wav"), "--json").then { |out, _| JSON.parse(out).first["markers"] }).to eq([{"frame" => exact[3], "label" => "bar 1"}])
    end

    it "counts another note, divides beats, accents others or none, and follows a MIDI file's map" do
      expect(made("--bpm", "60", "--beat", "3/8", "--meter", "6/8", "--bars", "2", "--rate", "48000", "--accent", "1,4").last).to eq(0)
      expect(onsets(samples, 3_000)).to eq((0...12).map { |beat| beat * 16_000 })
      expect(made("--bpm", "120", "--bars", "1", "--subdivide", "3", "--accent", "none", "--rate", "48000").last).to eq(0)
      expect(onsets(samples, 3_000)).to eq((0...12).map { |part| part * 8_000 })
      midi = "MThd\0\0\0\6\0\1\0\1\0\x60MTrk\0\0\0\x1A".b + "\0\xFF\x51\3\7\xA1\x20\0\xFF\x58\4\2\2\x18\x08".b + "\x81\x40\xFF\x51\3\x0F\x42\x40\0\xFF\x2F\0".b
      # 2/4 at 120 for a bar, then 60: the track's length is counted here.
      midi[18, 4] = [midi.bytesize - 22].pack("N")
      expect(made("--map", file("map.mid", midi), "--bars", "2", "--rate", "48000").last).to eq(0)
      expect(onsets(samples, 3_000)).to eq([0, 24_000, 48_000, 96_000])
    end

    {%w[--bpm 0] => /bpm/, %w[--bpm -120] => /bpm/, %w[--bpm 1e12] => /bpm/, %w[--bpm nan] => /bpm/,
     %w[--bpm 120 --bars 0] => /bars/, %w[--bpm 120 --bars -4] => /bars/, %w[--bpm 120 --bars 99999999] => /bars/,
     %w[--bpm 120 --meter 0/4] => /meter/, %w[--bpm 120 --meter 4/5] => /meter/,
     %w[--bpm 120 --rate 0] => /rate/, %w[--bpm 120 --rate 1000000000] => /rate/, %w[--bpm 120 --subdivide 0] => /subdivide/,
     %w[--bpm 120 --accent 5] => /accent/, %w[--bpm 120 --accent x] => /accent/, %w[--bpm 120 --count-in -1] => /count_in/,
     %w[--bpm 120 --beat 0/4] => /beat/, %w[--bpm 120 --sound gong] => /sound/,
     %w[--bpm 5 --bars 20000 --count-in 16] => /bars/, %w[--map none.mid] => /none\.mid/, [] => /bpm/}.each do |wrong, words|
      it "refuses #{wrong.join(" ")}, with exit code 2, and leaves no file" do
        given = {"--bars" => "4", "--rate" => "48000"}.except(*wrong).to_a.flatten
        out, error, code = made(*wrong, *given)
        expect([out, error, code]).to match(["", words, 2])
        expect(Dir.children(@folder)).to eq([])
      end
    end

    it "leaves a file of before as it was where the disk or the wish is no good" do
      file("click.wav", "before")
      expect(made("--bpm", "0", "--bars", "4", "--rate", "48000").last).to eq(2)
      expect(run("click", "--bpm", "120", "--bars", "4", "--rate", "48000", "--out", File.join(@folder, "nowhere/click.wav")).last).to eq(2)
      expect([File.read(File.join(@folder, "click.wav")), Dir.children(@folder)]).to eq(["before", ["click.wav"]])
    end
  end

  describe "bounce" do
    let(:organ) { Array.new(100_000) { |n| ((n * 7919) % 30_000) - 15_000 } }
    let(:tide) { Array.new(160_001) { |n| ((n * 104_729) % 20_000) - 10_000 } }

    # The demo's song with stems of our own: one mono, one of two sides on one lane.
    def written(**changes)
      data = JSON.parse(File.read(demo))
      data["songs"][0].merge!({"bpm" => 127, "count_in_bars" => 1, "length_frames" => 100_000, "click" => {"subdivide" => 2}}.merge(changes.transform_keys(&:to_s)))
      data["songs"][0]["stems"][1]["channels"] = 2
      data["set_list"] ||= ["low-tide-waltz"]
      FileUtils.mkdir_p(File.join(@folder, "songs/low-tide-waltz"))
      file("songs/low-tide-waltz/marsh organ.wav", WavFiles.pcm16(organ))
      file("songs/low-tide-waltz/tide drum.wav", WavFiles.pcm16(tide.first(160_000), channels: 2))
      file("show.loom.json", JSON.generate(data))
    end

    def bounced(*more, out: "out") = run("bounce", written, "--song", "Low tide waltz", "--out", File.join(@folder, out), "--json", *more)
    def sox(*arguments) = IO.popen(["sox", "-D", *arguments, "-t", "s32", "-"], "rb") { |io| Numo::Int32.from_binary(io.read) }
    def heard(name, out: "out") = sox(File.join(@folder, out, name))

    # 127 bpm: a bar of count-in is 240/127 s, 90,709 frames.
    it "writes each lane as it sounds: the same sums as sox makes of the stems, and the click as the command makes it" do
      out, error, code = bounced
      expect([error, code, JSON.parse(out)["files"]]).to eq(["", 0, ["29 organ.wav", "30 tide.wav", "31 click.wav"]])
      pad = Numo::Int32.zeros(90_709)
      expect(heard("29 organ.wav") == Numo::Int32.hstack([pad, sox(File.join(@folder, "songs/low-tide-waltz/marsh organ.wav"))])).to be(true)
      folded = IO.popen(["sox", "-D", File.join(@folder, "songs/low-tide-waltz/tide drum.wav"), "-t", "s32", "-", "remix", "1v0.5,2v0.5"], "rb") { |io| Numo::Int32.from_binary(io.read) }
      tide_heard = heard("30 tide.wav")
      expect((tide_heard[90_709...170_709] - folded).abs.max).to be <= 2**8
      expect([tide_heard.size, tide_heard[170_709..].abs.max]).to eq([190_709, 0])
      run("click", "--bpm", "127", "--bars", "2", "--count-in", "1", "--subdivide", "2", "--rate", "48000", "--out", File.join(@folder, "click.wav"))
      expect(heard("31 click.wav") == sox(File.join(@folder, "click.wav"))[0...190_709]).to be(true)
    end

    # sox pads, sums and folds on its own; 2**8 of 2**31 is what 24 bits leave.
    it "puts mixes of roles on their lanes, each at its level, stereo kept on two and folded by its law on one" do
      data = JSON.parse(File.read(written(bpm: nil, length_frames: 80_000)))
      data["mixes"] = [{"id" => "wide", "name" => "Wide", "members" => {"songs/role/organ" => -6.0206, "songs/role/tide" => -12.0412}},
        {"id" => "mono", "name" => "Mono", "pair" => false, "members" => {"songs/role/tide" => -3.0103}}]
      data["role_terms"] = {"tide" => {"fold_db" => -3, "gain_db" => -6.0206}}
      data["patch"]["slots"].merge!({"25" => "wide", "26" => "wide", "27" => "mono"}.to_h { |lane, mix| ["rec/lane-out/#{lane}", {"from" => "songs/mix/#{mix}"}] })
      out, error, code = run("bounce", file("show.loom.json", JSON.generate(data)), "--song", "Low tide waltz", "--out", File.join(@folder, "out"), "--json")
      expect([error, code, JSON.parse(out)["files"]]).to eq(["", 0, ["25 Wide.wav", "26 Wide.wav", "27 Mono.wav", "29 organ.wav", "30 tide.wav"]])
      organ, tide = ["marsh organ.wav", "tide drum.wav"].map { |name| File.join(@folder, "songs/low-tide-waltz", name) }
      mixed = ->(remix) { IO.popen(["sox", "-D", "-M", organ, tide, "-t", "s32", "-", "trim", "0", "80000s", "remix", remix], "rb") { |io| Numo::Int32.from_binary(io.read) } }
      {"25 Wide.wav" => "1v0.5,2v0.125", "26 Wide.wav" => "1v0.5,3v0.125", "27 Mono.wav" => "2v0.25,3v0.25", "30 tide.wav" => "2v0.35355339,3v0.35355339"}.each do |name, remix|
        expect((heard(name)[0...80_000] - mixed[remix]).abs.max).to be <= 2**9, "#{name}: #{remix}"
      end
    end

    it "writes one file of many channels, with names and where bar 1 is" do
      bounced("--one-file")
      report = JSON.parse(run("inspect", File.join(@folder, "out/Low tide waltz.wav"), "--json").first).first
      expect(report).to include("channels" => 3, "frames" => 190_709, "track_names" => ["29 organ", "30 tide", "31 click"])
      expect(report["markers"]).to include({"frame" => 90_709, "label" => "bar 1"}, {"frame" => 90_709, "label" => "Ebb"})
      bounced(out: "apart")
      parts = ["29 organ.wav", "30 tide.wav", "31 click.wav"].map { |name| heard(name, out: "apart") }
      expect(heard("Low tide waltz.wav").reshape(190_709, 3).transpose == Numo::NArray.vstack(parts)).to be(true)
    end

    it "writes nothing again that has not changed, all of it when a stem or the song has, and takes away what is no longer its own" do
      bounced
      times = -> { Dir[File.join(@folder, "out/*.wav")].to_h { |path| [File.basename(path), File.mtime(path)] } }
      before = times.call
      expect(JSON.parse(bounced.first)["unchanged"]).to be(true)
      expect(times.call).to eq(before)
      File.write(File.join(@folder, "out/31 click.wav"), "cut")
      expect(JSON.parse(bounced.first)["unchanged"]).to be(false)
      expect(File.size(File.join(@folder, "out/31 click.wav"))).to be > 500_000
      expect(JSON.parse(run("bounce", written(bpm: nil), "--song", "low-tide-waltz", "--out", File.join(@folder, "out"),
        "--json").first)["files"]).to eq(["29 organ.wav", "30 tide.wav"])
      expect(times.call.keys).to match_array(["29 organ.wav", "30 tide.wav"])
    end

    # 120 bpm in 4/4: a bar is 96,000 frames; a bar is counted in, and the seam takes ten milliseconds.
    it "writes an arrangement as the joined sections are, on every lane, click and all, with their names as markers" do
      sections = [["in", 1], ["verse", 2], ["out", 3]].map { |id, bar| {id: id, name: id.capitalize, bar: bar} }
      written(bpm: 120, length_frames: 4 * 96_000, sections: sections, arrangements: [{name: "Short", parts: %w[in out verse]}])
      file("songs/low-tide-waltz/marsh organ.wav", WavFiles.pcm16(Array.new(4 * 96_000) { |n| ((n * 7919) % 30_000) - 15_000 }))
      arguments = ["bounce", File.join(@folder, "show.loom.json"), "--song", "Low tide waltz"]
      expect(run(*arguments, "--out", File.join(@folder, "whole")).last).to eq(0)
      expect(run(*arguments, "--out", File.join(@folder, "out"), "--arrangement", "Short").last).to eq(0)
      ["29 organ.wav", "31 click.wav"].each do |name|
        whole, short = heard(name, out: "whole"), heard(name)
        # Count-in and "in", then "out" of two bars, then "verse".
        expect(short.size).to eq(96_000 * 5)
        joined = Numo::Int32.hstack([whole[0...192_000], whole[288_000...480_000], whole[192_000...288_000]])
        seams = [192_000, 384_000].flat_map { |at| (at...(at + 480)).to_a }
        expect(short.ne(joined).where.to_a - seams).to eq([])
      end
      markers = JSON.parse(run("inspect", File.join(@folder, "out/31 click.wav"), "--json").first).first["markers"]
      expect(markers).to eq([{"frame" => 96_000, "label" => "In"}, {"frame" => 192_000, "label" => "Out"}, {"frame" => 384_000, "label" => "Verse"}])
      expect(run(*arguments, "--out", File.join(@folder, "out"), "--arrangement", "Long").drop(1)).to match([/arrangement: "Long".*Short/, 2])
    end

    it "writes the whole set, a folder a song" do
      out, _, code = run("bounce", written, "--out", File.join(@folder, "out"))
      expect([code, out.lines.size, Dir.children(File.join(@folder, "out"))]).to eq([0, 1, ["01 Low tide waltz"]])
    end

    it "says what cannot be bounced and leaves nothing half done" do
      written
      FileUtils.rm(File.join(@folder, "songs/low-tide-waltz/tide drum.wav"))
      _, error, code = run("bounce", File.join(@folder, "show.loom.json"), "--song", "low-tide-waltz", "--out", File.join(@folder, "out"))
      expect([error, code, File.exist?(File.join(@folder, "out"))]).to match([/stem: "tide drum.wav"/, 2, false])
      {["--song", "Nobody"] => /song: "Nobody".*Low tide waltz/, ["--song", "low-tide-waltz", "--arrangement", "short"] => /arrangement/}.each do |wrong, words|
        expect(run("bounce", written, *wrong, "--out", File.join(@folder, "out")).drop(1)).to match([words, 2])
      end
      bytes = File.binread(File.join(@folder, "songs/low-tide-waltz/marsh organ.wav"))
      file("songs/low-tide-waltz/marsh organ.wav", bytes.sub([48_000].pack("V"), [44_100].pack("V")))
      expect(run("bounce", File.join(@folder, "show.loom.json"), "--song", "low-tide-waltz", "--out", File.join(@folder, "out")).drop(1)).to match([/44100 Hz/, 2])
      expect(Dir.glob(File.join(@folder, "out/*"))).to eq([])
    end
  end

  it "inspects files" do
    out, _, code = run("inspect", file("a.wav", WavFiles.pcm16([16_384, -16_384] * 100, channels: 2)), "--json")
    expect(JSON.parse(out).first).to include("container" => "WAV",
      "encoding" => "pcm",
      "sample_rate_hz" => 48_000,
      "bits" => 16,
      "channels" => 2,
      "frames" => 100,
      "bext" => nil,
      "track_names" => [],
      "markers" => [],
      "warnings" => [],
      "levels" => [{"peak_dbfs" => -6.02, "rms_dbfs" => -3.01, "clipped_runs" => 0}] * 2)
    expect(code).to eq(0)
  end

  it "says unusable input in one clear line, with exit code 2" do
    [["check", file("x.loom.json", "{")],
      ["trace", demo, "desk/channel/99"],
      ["inspect", file("x.wav", "no")],
      ["check", "/nowhere.json"]].each do |arguments|
      out, err, code = run(*arguments)
      expect([out, err.lines.size, code]).to eq(["", 1, 2])
    end
  end

  it "answers good files beside bad ones, in the order given, each named" do
    good, bad = file("a.wav", WavFiles.pcm16([1, 2])), file("b.wav", "")
    out, _, code = run("inspect", bad, good, "/nowhere.wav", "--json")
    reports = JSON.parse(out)
    expect([reports.map { |one| one["file"] }, reports[0]["error"], reports[1]["frames"], code]).to match([[bad, good, "/nowhere.wav"], /an empty file/, 2, 2])
    out, err, code = run("inspect", bad, good)
    expect([out, err, code]).to match([/a.wav: WAV/, /b.wav: .*an empty file/, 2])
    expect(run("inspect")[1..]).to eq(["inspect: name at least one file\n", 2])
  end

  it "never breaks its JSON on chunk ids that are no text" do
    odd = file("odd.wav", WavFiles.riff(WavFiles.fmt(1, 1, 48_000, 16), WavFiles.chunk("data", "ab"), "\xff\xfe\x00z".b + [500].pack("V") + "x"))
    out, _, code = run("inspect", odd, "--json")
    expect([JSON.parse(out).first["warnings"].first, code]).to match([/the chunk "\?+z" says 500 bytes/, 1])
  end

  it "reads and mends the file of a recorder that was cut off, and leaves whole ones as they are" do
    whole = WavFiles.pcm16((1..4801).to_a)
    cut = whole.dup.tap { |bytes| bytes[4, 4] = "\0" * 4 }.tap { |bytes| bytes[40, 4] = "\0" * 4 }
    paths = [file("cut.wav", cut), file("whole.wav", whole)]
    expect(JSON.parse(run("inspect", paths[0], "--json").first).first).to include("frames" => 4801, "warnings" => include(/its sizes were never written/))
    expect(run("verify", @folder).last).to eq(1)
    out, _, code = run("recover", @folder, "--json")
    expect([JSON.parse(out).map { |one| one.values_at("frames", "mended") }, code]).to eq([[[4801, true], [4801, false]], 0])
    expect([File.binread(paths[0]), File.binread(paths[1]), run("verify", @folder).last]).to eq([whole, whole, 0])
    expect(IO.popen(["ffprobe", "-v", "error", "-show_entries", "stream=duration_ts", "-of", "csv=p=0", paths[0]], &:read).to_i).to eq(4801)
    expect(run("recover", "/nowhere").last).to eq(2)
  end

  it "says whether the machine is fit to record, each with what to do" do
    out, _, code = run("doctor", "--lanes", "2", "--folder", @folder, "--json")
    report = JSON.parse(out)
    looked_at = ["disk speed", "room", "memory", "real-time priority", "power saving", "device", "clock",
      "letting others in"]
    expect(report.map { |one| one["about"] }).to eq(looked_at)
    expect(report.all? { |one| one["fine"] == one["advice"].nil? }).to be(true)
    expect(code).to eq((report.all? { |one| one["fine"] }) ? 0 : 1)
    expect(run("doctor", "--lanes", "0").last).to eq(2)
    expect(run("devices", "--json").last).to eq(0)
  end

  it "plans a swing, keeps who is to stay, and proves the way back" do
    out, _, code = run("swing", demo, "--to", "recorder", "--keep", "desk/channel/12", "--json")
    plan = JSON.parse(out)
    expect([plan["proved"], plan["stays"], code]).to eq([true, ["desk/channel/12"], 0])
    expect(plan["changes"].first).to eq("slot" => "desk/channel/1", "from" => "desk/aes50-a-in/1", "to" => "desk/card-return/1")
    expect(run("swing", demo, "--to", "stage")[1..]).to eq(["The desk already listens there; nothing is left to turn.\n", 2])
    expect(run("swing", demo, "--keep", "desk/channel/20").last).to eq(2)
  end

  # 12 tracks at 48 kHz and 24 bits: 12 x 144,000 bytes a second, 6.22 GB an hour.
  it "tells budgets" do
    report = JSON.parse(run("budget", demo, "--json", "--free-gb", "62.2", "--buffer", "256", "--distance", "34.3").first)
    expect(report["disk"]).to include("armed_tracks" => 12, "bytes_per_s" => 1_728_000, "gb_per_hour" => 6.22, "hours_left" => 9.96)
    expect([report["buffer"]["latency_ms"], report["distance"]["delay_ms"], report["distance"]["speed_of_sound_m_per_s"]]).to eq([5.33, 99.94, 343.2])
    expect(report["links"].last).to include("standard" => "USB", "lanes" => 32, "lanes_at_96_khz" => 16)
    expect(run("budget", demo, "--buffer", "0")[1..]).to eq(["buffer: 0 is not usable; 1 to 65536 frames\n", 2])
  end

  it "writes paper as PDF and CSV" do
    _, _, code = run("paper", demo, "--pdf", File.join(@folder, "sheets.pdf"), "--csv", File.join(@folder, "sheets"))
    expect([code, File.binread(File.join(@folder, "sheets.pdf"), 4), Dir.children(File.join(@folder, "sheets")).sort]).to eq([0, "%PDF", %w[boxes-box-a.csv inputs.csv labels-box-a.csv
      mixes-booth-wedge-bus-1.csv mixes-drummer-bus-2.csv mixes-main-l-main-1.csv mixes-main-r-main-2.csv mixes-stream-l-bus-5.csv mixes-stream-r-bus-6.csv
      outputs-box-a.csv outputs-desk.csv setlist.csv tracks.csv]])
    expect(File.read(File.join(@folder, "sheets/inputs.csv"), encoding: "UTF-8")).to include("9,Accordion,")
    expect(run("paper", demo)[1..]).to eq(["paper: say where to, with --pdf FILE or --csv FOLDER\n", 2])
    expect(run("paper", demo, "--pdf", File.join(@folder, "x.pdf"), "--size", "A3")[1]).to include("A4, Letter")
  end

  it "compares two shows in words" do
    other = file("other.loom.json", Loomshuttle::Exchange::ShowFile.write(edit("plug", row: "list/row/1", socket: "desk/mic/1").apply(planted)))
    expect(run("compare", demo, other)).to eq(["Hurdy-gurdy is plugged in at local socket 1, before: Box A socket 1\n", "", 1])
    expect(run("compare", demo, demo)).to eq(["nothing differs\n", "", 0])
  end

  describe "listen" do
    require "support/quiet_stage"

    def wav(name, stage, *lanes)
      samples = Numo::DFloat.vstack(lanes.map { |lane| stage.samples[lane - 1, true] }).transpose
      file(name, WavFiles.riff(WavFiles.fmt(1, lanes.size, stage.rate_hz, 24), WavFiles.chunk("data", QuietStage.bytes(samples.flatten))))
    end

    let(:stage) do
      QuietStage.new(lanes: 4, seconds: 5).tap do |stage|
        stroke = stage.stroke(seconds: 1.0)
        stage.put(1, stroke, at_s: 2.0, peak_dbfs: -6)
        stage.put(2, stroke, at_s: 2.0, peak_dbfs: -10, inverted: true, late_frames: 61)
        stage.hum(3, hz: 60, dbfs: -50)
      end
    end

    it "tells of each lane what it holds, and of each two how they lie, in files of one channel and of two" do
      files = [wav("kick in.wav", stage, 1), wav("kick out.wav", stage, 2), wav("pair.wav", stage, 3, 4), file("empty lane.wav", WavFiles.pcm16([0] * 96_000))]
      out, error, code = run("listen", *files, "--json")
      report = JSON.parse(out)
      expect([error, code]).to eq(["", 1])
      lanes = report["lanes"].map { |lane| lane.values_at("channel", "silence", "faults") }
      expect(lanes).to match([[1, nil, []], [1, nil, []], [1, "noise", [/hum at 60 Hz, \d+ dB/]], [2, "noise", []], [1, "digital", ["digital silence"]]])
      expect(report["lanes"][0]).to include("peak_dbfs" => be_within(0.1).of(-6), "floor_dbfs" => be_within(1.5).of(-85), "onset_frame" => be_within(30).of(96_000))
      kicks = report["pairs"].find { |pair| pair["one"].end_with?("kick in.wav") && pair["other"].end_with?("kick out.wav") }
      expect(kicks).to include("likeness" => be > 0.95, "delay_frames" => 61, "inverted" => true, "faults" => ["opposite polarity"])
      expect(report["pairs"].sum { |pair| pair["faults"].size }).to eq(1)
    end

    it "takes a folder, prints what is worth knowing, and answers good files beside bad ones" do
      wav("a.wav", stage, 4)
      file("b.wav", "no sound at all")
      out, error, code = run("listen", @folder)
      expect([out, error, code]).to match([/a\.wav, channel 1: peak .* nothing but noise\n\z/, /b\.wav: /, 2])
      expect(run("listen").values_at(1, 2)).to eq(["listen: name at least one file or folder\n", 2])
      expect(run("listen", File.join(@folder, "none.wav")).last).to eq(2)
    end
  end

  it "matches a folder's files to a show's tracks: 0 when all is settled, 1 when something is not, 2 for what is no recording" do
    names = %w[hurdy_gurdy Cimbalom_L Cimbalom_R Tuba Kick Snare OH_L OH_R Akkordeon Toypiano Foley_table Sprecher]
    names.each { |name| file("#{name}.wav", WavFiles.pcm16([0] * 10)) }
    out, _, code = run("match", demo, @folder)
    expect([out.lines.size, out, code]).to match([12, /^Akkordeon\.wav -> Accordion: 0\.92, means the same$/, 0])
    file("Kazoo.wav", WavFiles.pcm16([0] * 20, channels: 2))
    found, _, code = run("match", demo, @folder, "--json")
    expect([JSON.parse(found)["loose"].map { |one| one.values_at("file", "channel") }, code]).to eq([[["Kazoo.wav", 1], ["Kazoo.wav", 2]], 1])
    file("Bad.wav", "nothing")
    expect(run("match", demo, @folder).values_at(1, 2)).to match([/Bad\.wav/, 2])
  end
end

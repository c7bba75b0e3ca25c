# frozen_string_literal: true

require "support/engine_in_process"
require_relative "../../boot/cli"

# What an engine finds when it starts, and disks that refuse.
RSpec.describe Loomshuttle::Engine::Recovery do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:takes) { File.join(@folder, "takes").tap { |folder| FileUtils.mkdir_p(folder) } }
  let(:now_s) { Time.now.to_f }

  def recovery = described_class.new(takes, now_utc_s: now_s)
  def file(path, content) = File.join(takes, path).tap { |full| FileUtils.mkdir_p(File.dirname(full)) && File.binwrite(full, content) }

  # A take as an engine that was killed leaves it: files longer than their headers, half a line.
  def killed(number: 1, at_s: now_s - 10, carry_on: true, frames: 1000)
    engine = EngineInProcess.new(@folder).start
    engine.running
    engine.record([1, 2], carry_on: carry_on)
    engine.wait { engine.recording["frames"] > frames }
    folder = engine.folder_of(engine.recording["take"]["number"])
    engine.wait { File.size?(File.join(folder, "01 Lane 1.wav")).to_i > 3000 }
    before = "#{folder}.kept".tap { |kept| FileUtils.cp_r(folder, kept) }
    engine.stop
    engine.halt
    FileUtils.rm_rf(folder)
    File.rename(before, folder)
    File.open(File.join(folder, "01 Lane 1.wav"), "ab") { |io| io.write("\1\2") }
    journal = File.join(folder, "take.journal")
    File.write(journal, File.read(journal).gsub(/"utc_s":[\d.]+/, "\"utc_s\":#{at_s}").gsub(/"boot":"\w+"/, "\"boot\":\"other\"") + "{\"what\":\"who")
    folder
  end

  def log(folder) = Loomshuttle::Engine::Journal.read(folder)
  def frames(folder, name) = File.open(File.join(folder, name), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| [reader.frames, reader.warnings] } }

  it "makes headers fit, cuts half a frame off, and gives a young take to be gone on with" do
    folder = killed
    found = recovery
    count, warnings = frames(folder, "01 Lane 1.wav")
    expect([found.youngest.folder, warnings, count]).to match([folder, [], be > 0])
    stretch = found.youngest.log.stretches.first
    expect([stretch.frames, found.youngest.log.state]).to eq([count, "waiting"])
    expect(found.youngest.log.breaks).to match([include(why: "the engine was ended in the middle of it")])
    expect(found.told.map(&:words)).to eq(["1 odd line in its journal was skipped"])
  end

  # A second engine on the same folder, or somebody who mends a folder that is still being written: what they cut off would be lost.
  it "leaves a take alone that is being written, and takes it up when its writer is gone" do
    engine = EngineInProcess.new(@folder).start
    engine.running
    engine.record([1, 2])
    engine.wait { engine.recording["frames"] > 20_000 }
    folder = engine.folder_of(engine.recording["take"]["number"])
    mends = Loomshuttle::Cli::TakeFolder.new(folder)
    expect([recovery.told.map(&:words), recovery.youngest]).to eq([["another engine is writing it; it was left alone"], nil])
    expect { mends.recover }.to raise_error(Loomshuttle::BadInput, /being recorded/)
    expect(mends.verify.map { |one| one[:faults] }).to eq([["it is still being recorded"]] * 2)
    engine.stop
    engine.halt
    expect([log(folder).breaks, Loomshuttle::Cli::TakeFolder.new(folder).verify.map { |one| one[:fine] }, mends.recover.map { |one|
      one[:mended]
    }]).to eq([[], [true, true], [false, false]])
  end

  it "closes one that stood still for more than an hour, or is not to go on, once" do
    [{at_s: now_s - 3700}, {carry_on: false}].each do |how|
      folder = killed(**how)
      expect([recovery.finished, recovery.finished]).to eq([[folder], []])
      expect(log(folder)).to have_attributes(state: "closed", reason: "recovered after the engine ended without closing it")
      FileUtils.rm_rf(folder)
    end
  end

  it "starts on journals of rubbish, skips and tells each, and finishes the good one beside them" do
    good = killed(at_s: now_s - 3700)
    {"a" => "[]", "b" => "5", "c" => "{\"state\":\"recording\"}", "d" => "\xff\xfe\0\0", "e" => "", "f" => "{\"files\": [5], \"sample_rate_hz\": 1}",
     "g" => "{\"files\": [{}], \"sample_rate_hz\": \"x\"}"}.each { |name, text| file("#{name}/take.json", text) }
    ["[]\n5\nnull\n", "{\"what\":\"begun\"}\n", "{\"what\":\"begun\",\"plan\":{\"tracks\":5}}\n", "{\"what\":\"stretch\"}\n", "x" * 100_000,
      "{\"what\":\"begun\",\"plan\":{\"uid\":5,\"number\":1,\"sample_rate_hz\":0,\"tracks\":[]},\"start_frame\":0,\"time_reference_samples\":0}\n"].each_with_index do |text, at|
      file("j#{at}/take.journal", text)
    end
    Dir.mkdir(File.join(takes, "k"))
    Dir.mkdir(File.join(takes, "k/take.journal"))
    found = recovery
    expect([found.finished, found.youngest]).to eq([[good], nil])
    expect(found.told.map { |one| File.basename(one.folder) }).to include("a", "b", "c", "d", "e", "j0", "j1", "j4")
  end

  it "says which file is not there any more, and keeps the others" do
    folder = killed
    File.delete(File.join(folder, "01 Lane 1.wav"))
    found = recovery
    expect(found.told.map(&:words)).to include("01 Lane 1.wav is not there")
    expect(found.youngest.log.stretches.map(&:open?)).to eq([true, false])
  end

  # As the first version left it.
  it "finishes a take of version 1" do
    header = Loomshuttle::Audio::Wav::Header.new(sample_rate_hz: 48_000, bext: Loomshuttle::Audio::Wav::Bext.new(time_reference_samples: 0), track_names: ["A"])
    file("night/take-001/a.wav", header.bytes(0) + "\1\2\3" * 100 + "\1")
    folder = File.dirname(file("night/take-001/take.json", JSON.generate(state: "recording", id: 7, number: 1, sample_rate_hz: 48_000, time_reference_samples: 0, date: "2026-11-24", time: "20:00:00",
      files: [{file: "a.wav", name: "A", track: "rec/track/1", lane: 1}])))
    expect(recovery.finished).to eq([folder])
    expect([log(folder).state, log(folder).frames, frames(folder, "a.wav")]).to eq(["closed", 100, [100, []]])
  end

  describe "an engine that starts again" do
    it "goes on with the take by itself, in new stretches, where it would be by now" do
      folder = killed
      engine = EngineInProcess.new(@folder).start
      engine.running
      engine.wait { engine.recording&.fetch("state") == "recording" }
      now = engine.recording["frames"]
      engine.wait { engine.recording["frames"] > now + 1000 }
      engine.stop
      engine.halt
      log = log(folder)
      first, second = log.stretches.select { |stretch| stretch.track == "t1" }
      gap = log.breaks.first[:gap_frames]
      expect([log.state, first.file, second.file]).to eq(["closed", "01 Lane 1.wav", "01 Lane 1 - part 2.wav"])
      # Ten seconds by the clock on the wall, for it was another start of the machine.
      expect(gap / 48_000.0).to be_between(9, 70)
      expect(second.time_reference_samples - first.time_reference_samples).to eq(second.from_frame - first.from_frame)
      expect([second.from_frame - first.to_frame, frames(folder, second.file)]).to eq([gap, [second.frames, []]])
    end

    it "does not go back in time where the clock was set back" do
      folder = killed(at_s: now_s + 5000)
      engine = EngineInProcess.new(@folder).start
      engine.running
      engine.wait { engine.recording&.fetch("state") == "recording" }
      now = engine.recording["frames"]
      engine.wait { engine.recording["frames"] > now + 1000 }
      engine.stop
      engine.halt
      first, second = log(folder).stretches.select { |stretch| stretch.track == "t1" }
      expect(second.from_frame).to be >= first.to_frame
    end

    it "tells of what it skipped, and records" do
      file("x/take.json", "[]")
      engine = EngineInProcess.new(@folder).start
      engine.running
      expect(engine.status["faults"]).to match([include("about" => "journal", "words" => /its journal is no journal/)])
      engine.record([1])
      engine.stop
      engine.halt
    end
  end
end

RSpec.describe Loomshuttle::Engine::Destination do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:engine) { EngineInProcess.new(@folder, more_places: [second]).start.tap(&:running) }
  let(:second) { File.join(@folder, "second").tap { |folder| FileUtils.mkdir_p(folder) } }
  let(:copy) { File.join(second, "loomshuttle-takes/night/take-001") }

  after { engine.halt }

  def more(count) = engine.recording["frames"].then { |now| engine.wait { engine.recording["frames"] > now + count } }
  def places = engine.recording["places"].to_h { |place| [place["place"], place] }
  def whole?(folder) = Loomshuttle::Engine::Journal.read(folder).stretches.all? { |stretch| File.open(File.join(folder, stretch.file), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| reader.frames == stretch.frames && reader.warnings.empty? } } }

  # Refuses every write behind the first few of one file, as a disk does.
  def refuse(call, error, in_folder:)
    allow_any_instance_of(File).to receive(call).and_wrap_original do |original, *arguments|
      raise error if original.receiver.path.start_with?(in_folder) && original.receiver.path.end_with?(".wav") && @refusing

      original.call(*arguments)
    end
  end

  it "writes a second copy that holds the same" do
    expect(engine.ask(do: "places")).to match([include("path" => second)])
    engine.record([1, [2, 3]], copy: second)
    more(500)
    engine.ask(do: "arm", tracks: ["t1"], on: false)
    more(500)
    engine.stop
    expect([whole?(copy), whole?(engine.folder_of(1))]).to eq([true, true])
    ["01 Lane 1.wav", "02 Lane 2+3.wav"].each { |name| expect(File.binread(File.join(copy, name))).to eq(File.binread(File.join(engine.folder_of(1), name))) }
  end

  {write: Errno::ENOSPC, pwrite: Errno::EIO, fdatasync: Errno::EIO}.each do |call, error|
    it "ends the take whole and at once when the only disk refuses #{call}, and says what it said" do
      refuse(call, error, in_folder: engine.folder_of(1))
      engine.record([1, 2])
      more(500)
      @refusing = true
      last = engine.wait { engine.status["last_take"] }
      @refusing = false
      expect(last["reason"]).to include(error.new.message)
      expect(engine.log).to have_attributes(state: "closed", faults: include(include(words: include(error.new.message))))
      expect(whole?(engine.folder_of(1))).to be(true) unless call == :pwrite
      expect(engine.status["faults"].map { |fault| fault["words"] }).to include(/take 1: the main place .* refused: .*#{error.new.message}/)
      # The next one is recorded as if nothing had been.
      engine.record([1])
      more(300)
      expect(engine.stop).to include("number" => 2, "reason" => "stopped by hand")
    end
  end

  it "goes on with the other place when one refuses, whichever it is" do
    [copy, engine.folder_of(1)].each do |broken|
      refuse(:write, Errno::ENOSPC, in_folder: broken)
      engine.record([1], copy: second)
      more(500)
      @refusing = true
      engine.wait { places.values.any? { |place| place["fault"] } }
      more(1000)
      expect(places.values.count { |place| place["fault"] }).to eq(1)
      @refusing = false
      engine.stop
      expect([whole?(copy), whole?(engine.folder_of(1))]).to eq([true, true])
      FileUtils.rm_rf([copy, engine.folder_of(1)])
    end
  end

  it "stops at the margin, whole, and says so; a copy whose disk is full ends alone" do
    free = {}
    allow(Loomshuttle::Runtime::Disk).to receive(:free_bytes) { |folder| folder.start_with?(second) ? free.fetch(:second, 10**9) : free.fetch(:main, 10**9) }
    engine.record([1], copy: second)
    more(300)
    free[:second] = 900_000
    engine.wait { engine.status["faults"].any? { |fault| fault["words"].include?("the other place goes on") } }
    more(300)
    engine.wait { Loomshuttle::Engine::Journal.read(copy).closed? }
    expect(Loomshuttle::Engine::Journal.read(copy)).to have_attributes(state: "closed", reason: /full up to the margin of 1 MB/)
    free[:main] = 900_000
    last = engine.wait { engine.status["last_take"] }
    expect([last["reason"], whole?(copy), whole?(engine.folder_of(1))]).to match([/full up to the margin of 1 MB/, true, true])
    expect { engine.record([1]) }.to raise_error(Loomshuttle::BadInput, /disk: "0 MB free" is not usable; room for at least 10 s over the margin of 1 MB/)
  end

  it "leaves nothing behind where a take cannot be begun, and the next one takes its number" do
    allow(Loomshuttle::Engine::Journal).to receive(:new).and_raise(Errno::EROFS)
    expect { engine.record([1]) }.to raise_error(Loomshuttle::BadInput, /disk.*a disk that takes the files; this one says: Read-only file system/)
    expect(Dir.exist?(engine.folder_of(1))).to be(false)
    allow(Loomshuttle::Engine::Journal).to receive(:new).and_call_original
    expect(engine.record([1])).to include("number" => 1)
    engine.stop
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "support/small_disk"
require "support/failing_calls"
require_relative "../../boot/engine"

# The real engine beside the real stand-in, on disks that really fill up, turn read-only and die.
RSpec.describe "Faults of disks" do
  before { skip "nobody may mount a file system on this machine" unless SmallDisk.possible? }

  around do |example|
    Dir.mktmpdir do |folder|
      @installation = Installation.new(folder)
      @disks = []
      example.run
    ensure
      @installation.stop
      @disks.each(&:remove)
    end
  end

  let(:takes) { File.join(@installation.folder, "takes") }
  let(:second) { File.join(@installation.folder, "second") }

  def disk(folder, megabytes) = SmallDisk.new(folder, megabytes: megabytes).tap { |disk| @disks << disk }

  def start
    @installation.start("standin", "engine")
    @installation.wait("the device") { status.dig("device", "state") == "running" }
  end

  def status = @installation.engine(do: "status")
  def recording = status["recording"]
  def folder(number, root = takes) = File.join(root, format("night/take-%03d", number))
  def log(number, root = takes) = Loomshuttle::Engine::Journal.read(folder(number, root))
  def told = status["faults"].map { |fault| fault["words"] }
  def more(frames) = recording["frames"].then { |now| @installation.wait("more frames") { recording["frames"] > now + frames } }
  def stop = @installation.engine(do: "stop")

  def record(lanes, **more)
    tracks = lanes.map { |lane| {key: "t#{lane}", name: "Lane #{lane}", file: format("%02d", lane), lanes: [lane]} }
    @installation.engine(do: "record", plan: {uid: SecureRandom.uuid, number: 1, show: "night", sample_rate_hz: 48_000, margin_bytes: 1_000_000, preroll_s: 0, tracks: tracks, **more})
  end

  # By other readers than ours.
  def whole(number, root = takes)
    log(number, root).stretches.map do |stretch|
      path = File.join(folder(number, root), stretch.file)
      [`soxi -s #{path.shellescape} 2>&1`.to_i, `ffprobe -v error -show_entries stream=duration_ts -of csv=p=0 #{path.shellescape} 2>&1`.to_i].uniq == [stretch.frames]
    end
  end

  it "ends a take whole on a disk that fills up, twice in a row, and tells it each time" do
    full = disk(takes, 30)
    start
    # First within a moment, past every margin (whichever is met first, a write or the look at the margin), then up to the margin.
    {1 => [0, /No space left|the disk is full up to the margin/], 2 => [900_000, /the disk is full up to the margin/]}.each do |number, (leave, words)|
      expect(record(1..3)).to include("number" => number)
      more(50_000) && full.fill(leave: leave)
      last = @installation.wait("the end of take #{number}") { status["last_take"].then { |take| take if take&.fetch("number") == number } }
      expect(last["reason"]).to match(words)
      expect([recording, log(number).state, whole(number).uniq, log(number).frames > 48_000]).to eq([nil, "closed", [true], true])
      full.make_room
      Dir[File.join(folder(number), "*.wav")].each { |path| File.delete(path) }
    end
    expect(record([1])).to include("number" => 3)
    more(10_000)
    expect(stop).to include("number" => 3, "reason" => "stopped by hand")
  end

  it "refuses a take on a full disk in plain words, leaves nothing behind, and takes its number when there is room" do
    full = disk(takes, 4)
    start
    full.fill
    expect { record([1]) }.to raise_error(Loomshuttle::BadInput, /disk: "0 MB free" is not usable; room for at least 10 s/)
    full.make_room
    full.read_only
    expect { record([1]) }.to raise_error(Loomshuttle::BadInput, /a disk that takes the files; this one says: Read-only file system/)
    full.writable
    expect(record([1])).to include("number" => 1)
    more(5000)
    stop
  end

  it "starts on a full disk with an open take, and closes it whole out of what was kept in reserve" do
    full = disk(takes, 24)
    start
    record([1, 2], carry_on: false)
    more(60_000)
    @installation.kill("engine")
    full.fill
    @installation.start_process("engine")
    @installation.wait("the device") { status.dig("device", "state") == "running" }
    expect([status["recovered"], told, log(1).state, whole(1), log(1).frames > 48_000]).to eq([["night/take-001"], [], "closed", [true, true], true])
    full.make_room
    expect(record([1])).to include("number" => 2)
    more(5000)
    stop
  end

  it "goes on alone where the other place fills up, and says which one holds what" do
    full = disk(second, 22)
    ENV["LOOMSHUTTLE_PLACES"] = second
    start
    record(1..3, copy: second)
    more(50_000) && full.fill(leave: 900_000)
    refused = @installation.wait("the copy's end") { recording["places"].last.then { |place| place if place["fault"] || told.any?(/the other place goes on/) } }
    more(60_000)
    main = recording["places"].first
    expect([main["fault"], refused["place"], main["whole_frames"] > refused["whole_frames"]]).to eq([nil, "copy", true])
    stop
    copies = File.join(second, "loomshuttle-takes")
    expect([log(1).reason, whole(1).uniq, whole(1, copies).uniq]).to eq(["stopped by hand", [true], [true]])
    expect(log(1).frames).to be > log(1, copies).frames
  ensure
    ENV.delete("LOOMSHUTTLE_PLACES")
  end

  describe "when the kernel says that the disk is dying" do
    {"write,writev,pwrite64" => /Input\/output error/, "fdatasync,fsync" => /Input\/output error.* when it was asked to keep/}.each do |calls, words|
      it "ends the take at once and says so: #{calls}" do
        start
        record([1, 2, 3])
        more(60_000)
        files = Dir[File.join(folder(1), "*.wav")]
        FailingCalls.of(@installation.pid("engine"), calls, error: "EIO", paths: files) do
          @installation.wait("the end") { status["last_take"] }
        end
        expect([status["last_take"]["reason"], told]).to match([words, include(words)])
        expect([log(1).state, log(1).frames > 48_000, whole(1).uniq]).to eq(["closed", true, [true]]) if calls.include?("sync")
        expect(record([1])).to include("number" => 2)
        more(5000)
        expect(stop["reason"]).to eq("stopped by hand")
      end
    end

    it "ends one track where one file refuses, and records it again when it is armed again" do
      start
      record([1, 2, 3])
      more(60_000)
      FailingCalls.of(@installation.pid("engine"), "write,writev,pwrite64", error: "EIO", paths: [File.join(folder(1), "02.wav")]) do
        @installation.wait("the track's end") { told.any? }
      end
      expect([recording["places"].first, told]).to match([include("fault" => nil, "refused" => {"t2" => /Input\/output error/}), include(/no more of track Lane 2.*not recorded there any more/)])
      [false, true].each { |on| @installation.engine(do: "arm", tracks: ["t2"], on: on) }
      @installation.wait("its next stretch") { recording["places"].first["refused"].empty? }
      more(30_000)
      stop
      parts = log(1).stretches.group_by(&:track).transform_values(&:size)
      expect([parts, log(1).reason, log(1).faults.map { |fault| fault[:track] }]).to eq([{"t1" => 1, "t2" => 2, "t3" => 1}, "stopped by hand", ["t2"]])
      expect(whole(1).count(true)).to be >= 3
    end

    it "goes on in a next stretch where the file system takes no longer files" do
      start
      record([1, 2])
      more(60_000)
      FailingCalls.of(@installation.pid("engine"), "writev", error: "EFBIG:when=1", paths: [File.join(folder(1), "02.wav")]) do
        @installation.wait("the next stretch") { log(1).parts("t2") == 2 }
      end
      more(20_000)
      stop
      one, other = log(1).stretches.select { |stretch| stretch.track == "t2" }
      expect([whole(1).uniq, other.from_frame - one.to_frame, log(1).faults, told]).to eq([[true], 0, [], []])
    end

    it "ends one track where its next file cannot be made" do
      start
      record([1, 2])
      more(20_000)
      @installation.engine(do: "arm", tracks: ["t2"], on: false)
      more(5000)
      FailingCalls.of(@installation.pid("engine"), "openat", error: "EACCES", paths: [File.join(folder(1), "02 - part 2.wav")]) do
        @installation.engine(do: "arm", tracks: ["t2"], on: true)
        @installation.wait("the refusal") { recording["places"].first["refused"].any? }
      end
      more(5000)
      expect([recording["places"].first["fault"], stop["reason"], whole(1)]).to eq([nil, "stopped by hand", [true, true]])
    end
  end
end

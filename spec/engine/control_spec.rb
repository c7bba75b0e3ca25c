# frozen_string_literal: true

require "support/engine_in_process"

# Runner, control and rings in one process, over a device in memory.
RSpec.describe Loomshuttle::Engine::Control do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:device) { SteadyDevice.new }
  let(:engine) { EngineInProcess.new(@folder, device: device).start.tap(&:running) }

  after do
    engine.ask({do: "stop"}) if engine.recording
    engine.halt
  end

  def frames(count) = engine.wait { engine.recording["frames"] >= count }
  def more(count) = engine.recording["frames"].then { |now| frames(now + count) }
  def steps(file) = engine.samples(file)[true, 0].to_a
  # The device gives a rising line: whatever lies in a file is whole if it rises by one step.
  def whole?(file) = steps(file).each_cons(2).all? { |one, other| other - one == device.format.lanes_in }

  it "records what the device gives, every lane from the same frame, none missing" do
    expect(engine.record([1, 3])).to include("number" => 1, "folder" => "night/take-001")
    frames(1000)
    stopped = engine.stop
    expect(stopped).to include("number" => 1, "lost_blocks" => 0, "reason" => "stopped by hand")
    one, three = steps("01 Lane 1.wav"), steps("03 Lane 3.wav")
    expect([whole?("01 Lane 1.wav"), one.zip(three).map { |a, b| b - a }.uniq, one.size]).to eq([true, [2], stopped["frames"]])
    expect([engine.log.state, engine.log.frames, engine.log.losses]).to eq(["closed", one.size, []])
  end

  it "records both sides of a pair into one file, and what is wanted as float" do
    engine.record([[2, 4], 1], encoding: "float32")
    frames(1000)
    engine.stop
    pair = engine.samples("02 Lane 2+4.wav")
    expect([(pair[true, 1] - pair[true, 0]).to_a.uniq, whole?("01 Lane 1.wav")]).to eq([[2], true])
    format = File.open(File.join(engine.folder_of(1), "02 Lane 2+4.wav"), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).then { |reader| [reader.format.encoding, reader.format.channels, reader.track_names, reader.warnings] } }
    expect(format).to eq(["float", 2, ["Lane 2", "Lane 4"], []])
  end

  it "arms and disarms on the block: each stretch a file with its own place in the take" do
    engine.record([1, 2])
    frames(500)
    engine.ask(do: "arm", tracks: ["t1"], on: false)
    more(1000)
    engine.ask(do: "arm", tracks: ["t1"], on: true)
    more(1000)
    engine.stop
    log = engine.log
    first, second = log.stretches.select { |stretch| stretch.track == "t1" }
    other = log.stretches.find { |stretch| stretch.track == "t2" }
    expect([first.file, second.file]).to eq(["01 Lane 1.wav", "01 Lane 1 - part 2.wav"])
    expect(second.from_frame - first.to_frame).to be >= 900
    expect([first, second].map { |stretch| whole?(stretch.file) && stretch.frames == steps(stretch.file).size }).to eq([true, true])
    # The other track holds the same line: its samples at that place are the second stretch's neighbours.
    at = second.from_frame - other.from_frame
    expect(steps("02 Lane 2.wav")[at] - steps(second.file).first).to eq(1)
    references = [first, second].map { |stretch| File.open(File.join(engine.folder_of(1), stretch.file), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).bext.time_reference_samples } }
    expect(references.last - references.first).to eq(second.from_frame - first.from_frame)
  end

  it "begins before Record was pressed, as far back as it is asked to and memory goes" do
    engine.wait { engine.status["clock"]["frame"] > 6000 }
    engine.record([1], preroll_s: 0.1)
    engine.stop
    log = engine.log
    expect(log.pressed_frame - log.start_frame).to eq(4800)
    expect([whole?("01 Lane 1.wav"), steps("01 Lane 1.wav").size]).to match([true, be >= 4800])
    engine.record([2], preroll_s: 30)
    engine.stop
    expect(engine.log(2).start_frame).to be_between(0, 200)
  end

  it "does not reach back over an opening of the device" do
    engine.wait { engine.status["clock"]["frame"] > 1000 }
    device.unplug
    engine.wait { engine.status["device"]["state"] == "lost" }
    device.plug
    engine.running
    engine.record([1], preroll_s: 30)
    frames(300)
    engine.stop
    expect([engine.log.stretches.size, engine.log.start_frame]).to match([1, be > 1000])
  end

  it "keeps marks, names, notes and changes of the patch with the take, running or over" do
    engine.record([1])
    frames(200)
    expect(engine.ask(do: "mark", id: "m1", label: "")["frame"]).to be >= 200
    engine.ask(do: "mark", id: "m2", label: "Second song")
    engine.ask(do: "relabel", id: "m1", label: "First song")
    engine.ask(do: "unmark", id: "m2")
    engine.ask(do: "patch", words: "Tuba is plugged in at Box A socket 7")
    engine.ask(do: "named", name: "Rehearsal", notes: "rain")
    engine.ask(do: "named", track: "t1", name: "Tuba")
    engine.stop
    engine.ask(do: "amend", folder: "night/take-001", lines: [{what: "mark", id: "m3", label: "End", frame: engine.log.start_frame + 7}, {what: "named", notes: "rain, then sun"}])
    log = engine.log
    expect(log.marks.map { |mark| mark.values_at(:id, :label) }).to eq([["m1", "First song"], ["m3", "End"]])
    expect([log.patches.map { |patch|
      patch[:words]
    }, log.name, log.notes, log.names]).to eq([["Tuba is plugged in at Box A socket 7"], "Rehearsal", "rain, then sun", {"t1" => "Tuba"}])
    expect([log.stretches.map(&:file), whole?("01 Tuba.wav"), File.exist?(File.join(engine.folder_of(1), "01 Lane 1.wav"))]).to eq([["01 Tuba.wav"], true, false])
  end

  it "renames a track of a take that is over: file and the name inside follow, no sample moves" do
    engine.record([1, [2, 3]])
    frames(300)
    engine.stop
    before = steps("01 Lane 1.wav")
    expect(engine.ask(do: "rename", folder: "night/take-001", track: "t1", name: "Vöx / lead")).to match([include("to" => "01 Vöx - lead.wav")])
    names = File.open(File.join(engine.folder_of(1), "01 Vöx - lead.wav"), "rb") { |io| Loomshuttle::Audio::Wav::Reader.new(io).track_names }
    expect([steps("01 Vöx - lead.wav"), names, engine.log.stretches.first.file]).to eq([before, ["Vöx / lead"], "01 Vöx - lead.wav"])
    expect { engine.ask(do: "rename", folder: "night/take-001", track: "t9", name: "x") }.to raise_error(Loomshuttle::BadInput, /a track of this take/)
    expect { engine.ask(do: "rename", folder: "../..", track: "t1", name: "x") }.to raise_error(Loomshuttle::BadInput, /inside its own folder/)
  end

  describe "when the device goes away" do
    it "goes on in new stretches of the same take, with the gap as long as it was" do
      engine.record([2])
      frames(200)
      device.unplug
      engine.wait { engine.recording["state"] == "waiting" }
      # Whole and closed at once, also while the take waits.
      engine.wait { engine.log.open_stretches.empty? }
      expect(engine.recording["why"]).to eq("the device went away (unplugged)")
      gone_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      engine.wait { Process.clock_gettime(Process::CLOCK_MONOTONIC) - gone_s > 0.3 }
      device.plug
      engine.wait { engine.recording["state"] == "recording" }
      more(500)
      engine.stop
      log = engine.log
      first, second = log.stretches
      expect([whole?(first.file), whole?(second.file), log.state]).to eq([true, true, "closed"])
      expect(log.breaks).to match([include(frame: first.to_frame, gap_frames: second.from_frame - first.to_frame)])
      expect(second.from_frame - first.to_frame).to be >= 0.3 * 48_000
    end

    it "ends the take whole where it is not to go on, or comes back as another" do
      engine.record([2], carry_on: false)
      frames(200)
      device.unplug
      last = engine.wait { engine.status["last_take"] }
      expect(last["reason"]).to eq("the device went away (unplugged); the files are whole up to there")
      expect(steps("02 Lane 2.wav").size).to eq(last["frames"])
      device.plug
      engine.running
      engine.record([2])
      device.unplug
      engine.wait { engine.recording["state"] == "waiting" }
      device.format = device.format.with(rate_hz: 44_100)
      device.plug
      expect(engine.wait { engine.status["last_take"].then { |take| take if take["number"] == 2 } }["reason"]).to match(/came back with 4 lanes at 44100 Hz/)
    end

    it "can be stopped while it waits" do
      engine.record([2])
      device.unplug
      engine.wait { engine.recording["state"] == "waiting" }
      expect(engine.stop).to include("reason" => "stopped by hand")
    end
  end

  it "says within a second that a device gives nothing though it is open, and goes on with it" do
    engine.record([1])
    frames(200)
    device.hang
    asked_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    status = engine.wait { engine.status["device"].then { |one| one if one["state"] == "silent" } }
    expect(status["silent_s"]).to be <= 1.0 + Process.clock_gettime(Process::CLOCK_MONOTONIC) - asked_s
    device.hang(false)
    engine.wait { engine.status["device"]["state"] == "running" }
    more(200)
    engine.stop
    expect([engine.log.stretches.size, whole?("01 Lane 1.wav"), engine.status["device"]["fault"]]).to eq([1, true, nil])
  end

  it "puts silence where the device lost frames, counts them by their place, and stays aligned" do
    engine.record([1, 2])
    frames(500)
    device.lose(133)
    engine.wait { engine.status["device"]["lost_in_frames"] == 133 }
    more(500)
    engine.stop
    steps = steps("01 Lane 1.wav")
    at = steps.each_cons(133).find_index { |run| run.all?(0) }
    expect(at).not_to be_nil
    # The line goes on behind the hole where it would be had nothing been lost.
    expect(steps[at + 133] - steps[at - 1]).to eq(134 * 4)
    expect(engine.log.losses).to match([include(frame: engine.log.start_frame + at, frames: 133, why: "the device lost them")])
  end

  it "counts a block of playback as late where one sounded before it and one lies behind it, not where playing begins" do
    engine
    ring = engine.runner.rings.play
    block = device.format.block_frames
    first = engine.status["clock"]["frame"] + 100 * block
    [0, 1, 3, 4].each { |at| ring.write(first + at * block, [at + 1].pack("l<") * (block * device.format.lanes_out)) }
    engine.wait { engine.status["clock"]["frame"] > first + 6 * block }
    heard = device.played.reject { |bytes| bytes.delete("\0").empty? }.map { |bytes| bytes.unpack1("l<") }
    expect([engine.status["device"]["late_blocks"], heard]).to eq([1, [1, 2, 4, 5]])
  end

  it "holds one take at a time, and none over another" do
    engine.record([1])
    expect { engine.record([1]) }.to raise_error(Loomshuttle::BadInput, /capture.*take 1.*stop the running take first/)
    engine.stop
    # A number that is taken is passed over, whatever stands there.
    FileUtils.mkdir_p(engine.folder_of(2))
    expect(engine.record([1])).to include("number" => 3)
    engine.stop
    expect { engine.record([5]) }.to raise_error(Loomshuttle::BadInput, "lane: \"5\" is not usable; 1 to 4")
    expect(Dir.exist?(engine.folder_of(4))).to be(false)
  end

  it "ends five hundred quick takes one by one, each whole, with no thread or file left open" do
    engine.record([1])
    engine.stop
    threads, files = Thread.list.size, Dir["/proc/self/fd/*"].size
    500.times do
      engine.record([1, 2])
      engine.stop
    end
    expect((2..501).map { |number| engine.log(number).state }.uniq).to eq(["closed"])
    engine.wait { Thread.list.size <= threads + 2 }
    GC.start
    expect(Dir["/proc/self/fd/*"].size).to be <= files + 8
  end

  it "has whole files after a thousand arm changes, and a journal that agrees with each of them" do
    engine.record([1, 2, 3, 4])
    random = Random.new(3)
    on = Array.new(4, true)
    1000.times do
      track = random.rand(4)
      on[track] = !on[track]
      engine.ask(do: "arm", tracks: ["t#{track + 1}"], on: on[track])
    end
    more(300)
    engine.stop
    log = engine.log
    expect(log.stretches.size).to be > 50
    bad = log.stretches.reject { |stretch| steps(stretch.file).size == stretch.frames && whole?(stretch.file) }
    expect(bad).to eq([])
    log.stretches.group_by(&:track).each_value do |parts|
      expect(parts.each_cons(2).all? { |one, other| one.to_frame <= other.from_frame }).to be(true)
    end
  end

  it "sends meters and status to whoever follows" do
    heard = Thread::Queue.new
    Thread.new { Loomshuttle::Runtime::LineClient.new(engine.socket, who: "x").follow { |frame| heard << frame } }.report_on_exception = false
    frame = Timeout.timeout(60) { 3.times.map { heard.pop }.last }
    expect([frame["meters"].keys, frame["status"]["device"]]).to match([%w[peak_dbfs held_dbfs clips], include("name" => "steady", "lanes" => 4)])
    expect(engine.ask(do: "ribbon")).to eq([])
  end

  {"nothing to do" => [{}, /status, ribbon, record/], "an unknown wish" => [{do: "dance"}, /status, ribbon, record/],
   "a take without its plan" => [{do: "record"}, /missing required properties: plan/],
   "a folder that leads outside" => [{do: "record", plan: {uid: "abcdef", number: 1, show: "../../x", sample_rate_hz: 48_000, tracks: []}}, /show/],
   "a file that leads outside" => [{do: "record", plan: {uid: "abcdef", number: 1, show: "x", sample_rate_hz: 48_000, tracks: [{key: "a", name: "a", file: "../a", lanes: [1]}]}}, /file/],
   "a copy to a place of its own choice" =>
     [{do: "record", plan: {uid: "abcdef", number: 1, show: "x", sample_rate_hz: 48_000, copy: "/etc", tracks: [{key: "a", name: "a", file: "a", lanes: [1]}]}}, /copy.*one of/],
   "another rate" => [{do: "record", plan: {uid: "abcdef", number: 1, show: "x", sample_rate_hz: 44_100, tracks: [{key: "a", name: "a", file: "a", lanes: [1]}]}}, /device's 48000 Hz/],
   "two files of one name" => [{do: "record", plan: {uid: "abcdef", number: 1, show: "x", sample_rate_hz: 48_000, tracks: %w[a b].map { |key| {key: key, name: "n", file: "same", lanes: [1]} }}}, /file name of its own/],
   "to arm when nothing runs" => [{do: "arm", tracks: ["t1"], on: true}, /a take that is running/]}.each do |what, (request, allowed)|
    it "refuses #{what}, says why, leaves nothing behind and goes on" do
      expect { engine.ask(request) }.to raise_error(Loomshuttle::BadInput, allowed)
      expect([Dir.children(engine.takes), engine.status["device"]["state"]]).to eq([[], "running"])
    end
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/engine"
require_relative "../../boot/server"

RSpec::Matchers.define_negated_matcher :not_include, :include

# What happens to a take when what is around the engine dies or is asked twice at once.
RSpec.describe "A take and its surroundings" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    @installation.wait("the device") { status.dig("device", "state") == "running" }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  after do
    @installation.api("post", "/api/capture/stop", {})
    keys = @installation.api("get", "/api/alarms").last.map { |alarm| alarm["key"] }
    @installation.api("post", "/api/alarms/seen", {keys: keys})
  end

  def status = @installation.engine(do: "status")
  def api(...) = @installation.api(...)
  def start = api("post", "#{@installation.show}/capture/start", {})
  def rows = api("get", "#{@installation.show}/takes").last["takes"]
  def frames = status.dig("recording", "frames") || 0
  def more(count) = frames.then { |now| @installation.wait("more frames") { frames > now + count } }

  # Database, journal and files of the newest take, in frames.
  def agree?
    row = rows.first
    folder = File.join(@folder, "takes", row["folder"])
    log = Loomshuttle::Engine::Journal.read(folder)
    lengths = log.stretches.map { |stretch| `soxi -s #{File.join(folder, stretch.file).shellescape}`.to_i }
    [row["state"], row["frames"] == log.frames, lengths == log.stretches.map(&:frames), lengths.max == row["frames"]] == ["closed", true, true, true]
  end

  it "begins one take when two browsers press Record at once, and tells the other what runs" do
    6.times do
      answers = Array.new(2) { Thread.new { start } }.map(&:value)
      codes, told = answers.map(&:first).sort, answers.find { |code, _| code != 200 }&.last
      expect(codes.first).to eq(200), answers.inspect
      expect(told.to_s).to match(/take \d+ is running|already|stop the running take first/i).and(satisfy { |words| !words.include?("database") }) if codes.last != 200
      expect([codes.count(200), status["recording"].nil?]).to eq([1, false])
      api("post", "/api/capture/stop", {})
      @installation.wait("the row") { rows.first["state"] == "closed" }
    end
    expect(rows.map { |row| row["number"] }.uniq.size).to eq(rows.size)
  end

  # Folders of takes as somebody may bring them: one whose words the database does not take, one whose lines are odd, a good one.
  it "is kept though the journal of another one beside it cannot be, which is told" do
    start
    more(5_000)
    api("post", "/api/capture/stop", {})
    @installation.wait("the row") { rows.first["state"] == "closed" }
    kept = File.join(@folder, "takes", rows.first["folder"])
    journal = File.read(File.join(kept, "take.journal"))
    uid = journal[/"uid":"([^"]+)"/, 1]
    brought = lambda do |name, number, &changed|
      folder = File.join(File.dirname(kept), name).tap { |made| FileUtils.mkdir_p(made) }
      text = journal.gsub(uid, "brought-#{number}").sub(/"number":\d+/, "\"number\":#{number}").sub(rows.first["folder"], "#{File.dirname(rows.first["folder"])}/#{name}")
      File.write(File.join(folder, "take.journal"), changed ? changed.call(text) : text)
    end
    brought.call("take-0001-nul", 801) { |text| text + "{\"what\":\"named\",\"name\":\"a\\u0000b\"}\n" }
    brought.call("take-0002-odd", 802) { |text| text.sub(/"file":"\d+ [^"]+\.wav"/, "\"file\":\"../../run/database.json\"") }
    brought.call("take-zzzz-good", 803)
    alarms = -> { api("get", "/api/alarms").last }
    @installation.wait("the good one") { rows.any? { |row| row["number"] == 803 } }
    expect(rows.map { |row| row["number"] }).to include(802, 803).and(not_include(801))
    @installation.wait("the alarm") { alarms.call.any? { |alarm| alarm["key"].start_with?("journal/") } }
    expect(alarms.call.map { |alarm| alarm["words"] }).to include(/the folder \S+take-0001-nul says could not be kept/)
    FileUtils.rm_rf(Dir[File.join(File.dirname(kept), "take-{0001-nul,0002-odd,zzzz-good}")])
  end

  it "goes on when the server is killed, is known again when that is back, and is whole in the end" do
    start
    more(20_000)
    before = frames
    @installation.kill("server")
    more(48_000)
    @installation.start("server")
    expect(frames).to be > before + 40_000
    expect(rows.first["state"]).to eq("recording")
    expect(api("post", "/api/capture/stop", {}).first).to eq(200)
    @installation.wait("the row") { rows.first["state"] == "closed" }
    expect(agree?).to be(true)
  end

  it "is stopped without the database, says so, and its row is put right when that is back" do
    start
    more(20_000)
    @installation.stop_database
    more(20_000)
    code, answer = api("post", "/api/capture/stop", {})
    expect([200, 503]).to include(code)
    expect(answer.dig("error", "message")).to include("database does not answer") if code == 503
    @installation.engine(do: "stop") if status["recording"]
    @installation.restart_database
    @installation.wait("the row") { rows.first["state"] == "closed" }
    expect(agree?).to be(true)
  end

  it "that broke off while the server was away is told when that is back" do
    start
    more(20_000)
    @installation.kill("server")
    @installation.kill("engine")
    @installation.start_process("engine")
    @installation.wait("the take going on") { status.dig("recording", "state") == "recording" }
    more(30_000)
    @installation.start("server")
    alarm = @installation.wait("the alarm") { api("get", "/api/alarms").last.find { |one| one["seen_at"].nil? } }
    expect(alarm["words"]).to match(/take \d+/i)
    api("post", "/api/capture/stop", {})
    row = @installation.wait("the row") { rows.first.then { |one| one if one["state"] == "closed" } }
    expect([row["breaks"].size, row["breaks"].first["gap_frames"] > 0]).to eq([1, true])
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/calls_by_id"
require "support/installation"
require "support/shows_by_others"
require "support/spellings"

# Ids say nothing: whatever a show calls its tracks, rows, gear and songs, every operation of the contract that takes
# such an id takes it.
RSpec.describe "Ids that say nothing" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server", "worker")
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  # Whoever adds an operation says whether it names something of a show, and has it called if it does.
  it "are asked of every operation of the contract" do
    operations = Spellings.operations.map { |method, path| "#{method} #{path.delete_prefix("/api/")}" }
    expect(CallsById::CALLS.keys + CallsById::NAMELESS).to match_array(operations)
  end

  def api(...) = @installation.api(...)
  def base = @installation.show

  # @param refused [Regexp, nil] what it may be refused by, for reasons of its own
  def ask(method, path, body, refused: nil)
    whole = path.start_with?("/") ? path : "#{base}#{"/" unless path.empty? || path.start_with?("?")}#{path}"
    status, answer = api(method, whole, body)
    words = answer.is_a?(Hash) ? answer.dig("error", "message") : nil
    expect([method, whole, status,
      words]).to match([method, whole, 200, nil]).or match([method, whole, 422, refused || :never])
    answer
  end

  def get(path, **how) = ask("get", path, nil, **how)
  def post(path, body, **how) = ask("post", path, body, **how)
  def delete(path, **how) = ask("delete", path, nil, **how)
  def change(path, refused: nil, **body) = post(path, {version: show["version"], **body}, refused: refused)

  # What is no JSON.
  def raw(method, path, body = nil, type: "application/octet-stream")
    request = Net::HTTP.const_get(method.capitalize).new(path.start_with?("/") ? path : "#{base}/#{path}",
      "content-type" => type)
    request.body = body
    Net::HTTP.start("127.0.0.1", @installation.services.ports["http"]) { |http| http.request(request) }
  end

  def put(path, bytes, method: "put", type: "application/octet-stream")
    expect(raw(method, path, bytes, type: type).code).to eq("200")
  end

  def file(path, refused: nil)
    answer = raw("get", path)
    expect([path, answer.code,
      answer.body]).to match([path, "200", be_a(String)]).or match([path, "422", refused || :never])
    answer.body
  end

  def ended(task)
    state = @installation.wait("task #{task}") {
      api("get", "/api/tasks/#{task}").last["state"].then { |now|
        now if %w[done failed stopped].include?(now)
      }
    }
    expect(state).to eq("done")
  end

  def enc(text) = CGI.escape(text).gsub("+", "%20")
  def stop_playing = api("post", "/api/playing/stop", {})
  def sound = WavFiles.pcm16([100] * 4800)
  def show = api("get", base).last
  def desk = show["desks"].first["id"]
  def song = show["songs"].first["id"]
  def lane = get("lineup")["lines"].first&.fetch("lane") || place.sub("/track/", "/lane-out/")
  def take = @take["id"]

  # Those of before anything was changed.
  def row = @rows[1]
  def other_row = @rows[2]
  def track = @tracks[1]
  def other_track = @tracks[2]
  def place = show["tracks"][1]["place"]
  def thread = @thread ||= get("looms/patch")["strands"].find { |one| one["to"] == place }

  # A track that is armed and records nothing, when nothing else is wrong.
  def a_finding
    found = -> { show["findings"].find { |one| one["accepted"].nil? && one["mend"] } }
    found.call || change("edits", edit: {kind: "clear", slot: "#{desk}/channel/4"}) && found.call
  end

  # A second of every track.
  def record
    @installation.wait("the take") { api("post", "#{base}/capture/start", {}).first == 200 }
    @installation.wait("a second") { @installation.engine(do: "status").dig("recording", "frames").to_i > 48_000 }
    api("post", "/api/capture/stop", {})
    @installation.wait("the take's row") { get("takes")["takes"].find { |one| one["state"] == "closed" } }
  end

  shows = {
    "the demo" => -> { @installation.perform(File.read(File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json"))) },
    "a show made by the guided steps" => lambda {
      @installation.stand_at(ShowsByOthers.guided(method(:api)))
      change("edits", edit: {kind: "set_list", songs: ["low-tide-waltz"]})
      change("mends", key: show["findings"].find { |one| one["title"].include?("organ") }["key"])
      change("soundcheck/lay")
    },
    "a show with ids of random text" => lambda {
      @installation.perform(JSON.generate(ShowsByOthers.random_text(RSpec.configuration.seed)))
      FileUtils.cp_r(File.join(@folder, "songs/low-tide-waltz"), File.join(@folder, "songs", song))
    }
  }

  shows.each do |what, make|
    it "are taken by every operation that takes one, in #{what}" do
      %w[capture playing].each { |one| api("post", "/api/#{one}/stop", {}) }
      instance_exec(&make)
      @rows, @tracks = show["rows"].map { |one| one["id"] }, show["tracks"].map { |one| one["id"] }
      @take = record
      aggregate_failures { CallsById::CALLS.each_value { |call| instance_exec(&call) } }
    end
  end
end

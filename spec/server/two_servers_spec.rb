# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/server"

# Two server processes on one database and one data folder: both serve, one leads the desk.
RSpec.describe "Two servers on one database" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    @port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
    @other = start_other
  end

  after(:all) do
    finish(@other, "TERM") if @other
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  def start_other
    spawn({**@installation.services.environment, "LOOMSHUTTLE_HTTP_PORT" => @port.to_s}, *@installation.services.commands["server"], :chdir => Loomshuttle::ROOT, %i[out err] => File.join(@folder, "other.log")).tap do
      @installation.wait("the other server") { Net::HTTP.get_response(URI("http://127.0.0.1:#{@port}/api/shows")).is_a?(Net::HTTPOK) }
    end
  end

  def finish(pid, signal)
    Process.kill(signal, pid)
    Process.wait(pid)
  end

  def one(method, path, body = nil) = @installation.api(method, path, body, "x-client" => "one")

  def other(method, path, body = nil)
    request = Net::HTTP.const_get(method.capitalize).new(path, {"content-type" => "application/json", "x-client" => "other"})
    request.body = JSON.generate(body) if body
    answer = Net::HTTP.start("127.0.0.1", @port) { |http| http.request(request) }
    [answer.code.to_i, JSON.parse(answer.body)]
  end

  def show = @installation.show
  def version = one("get", show).last["version"]
  def power(on) = {kind: "power", sockets: ["box-a/mic/5"], on: on}
  def desk_has(on) = @installation.wait("the desk") { one("get", "#{show}/desk").last.values_at("count", "fault") == [0, nil] && one("get", show).last["rows"][4]["powered"] == on }

  # Reads events of one server until one answers the block.
  def heard(port, name)
    Net::HTTP.start("127.0.0.1", port) do |http|
      http.request_get("/api/events") do |answer|
        text = +""
        answer.read_body do |piece|
          text << piece
          found = text.scan(/^event: #{name}\ndata: (.*)\n\n/).flatten.map { |data| JSON.parse(data) }.find { |data| yield data }
          return found if found
        end
      end
    end
  end

  it "both edit one show, each sees what the other kept, and versions have one order" do
    before = version
    # A version that nobody has reached is refused, whoever asks.
    expect([method(:one), method(:other)].map { |server| server.call("post", "#{show}/edits", {version: 1_000_000, edit: power(true)}).first }).to eq([409, 409])
    edits = [method(:one), method(:other)].map.with_index do |server, n|
      Thread.new { 15.times { |k| server.call("post", "#{show}/edits", {version: version, edit: {kind: "rename", id: "desk/bus/#{n + 9}", name: "#{n} #{k}"}}) } }
    end
    edits.each(&:join)
    names = [one("get", "#{show}/mixes"), other("get", "#{show}/mixes")].map { |_, mixes| mixes.select { |mix| mix["name"].match?(%r{/(9|10)\z}) } }
    expect(names.first).to eq(names.last)
    expect(version).to eq(before + 30)
  end

  it "tell their browsers of each other's edits" do
    listener = Thread.new { heard(@port, "show") { |told| told["version"] > version - 1 } }
    @installation.wait("the event") do
      one("post", "#{show}/edits", {version: version, edit: {kind: "rename", id: "desk/bus/11", name: "Lamp #{rand(1000)}"}})
      listener.join(0.3)
    end
    expect(listener.value["id"]).to eq(1)
  end

  it "let the desk follow whichever of them the edit came to, also when the one that led is gone" do
    other("post", "#{show}/edits", {version: version, edit: power(true)})
    desk_has(true)
    @installation.kill("server")
    expect(other("post", "#{show}/edits", {version: other("get", show).last["version"], edit: power(false)}).first).to eq(200)
    @installation.wait("the other to lead") {
      other("post", "#{show}/edits",
        {version: other("get", show).last["version"], edit: power(true)}) && other("get", "#{show}/desk").last["count"] == 0 && other("get", show).last["rows"][4]["powered"]
    }
    @installation.start("server")
    desk_has(true)
  end

  it "both know of a take that one of them began" do
    id = other("post", "#{show}/capture/start", {}).last["id"]
    @installation.wait("the row") { one("get", "#{show}/takes").last["takes"].find { |take| take["id"] == id && take["state"] == "recording" } }
    expect(one("post", "/api/capture/stop", {}).first).to eq(200)
    @installation.wait("the end") { other("get", "#{show}/takes").last["takes"].find { |take| take["id"] == id }["state"] == "closed" }
  end
end

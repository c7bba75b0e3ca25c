# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/standin"
require_relative "../../boot/server"

# Which desk is spoken to: found on loopback's network, or typed. A second desk stands beside the installation's.
RSpec.describe "The desk's address" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  before { api("put", "/api/desk", {address: shipped}) }

  let(:port) { Addrinfo.udp("127.0.0.1", 0).bind { |socket| socket.local_address.ip_port } }
  let(:address) { "127.0.0.1:#{port}" }
  let(:shipped) { "127.0.0.1:#{@installation.services.ports["osc"]}" }
  # A desk of another name, with nothing patched on it.
  let(:console) do
    named = show(edit("device", id: "desk", name: "Desk of the Ünder hall"))
    Loomshuttle::Standin::Console.new(named.with(patch: Loomshuttle::Patch::Scene.new))
  end
  let!(:other) { Loomshuttle::Standin::ControlPort.new(console, port: port, codec: nil) { nil } }

  def api(...) = @installation.api(...)
  def wait(...) = @installation.wait(...)
  def on_air = api("get", "/api/shows/1/on-air").last

  it "is found by a search, with the desk's name, each desk once" do
    found = wait("both") { api("get", "/api/desk/search").last["found"].then { |all| all if (all.map { |one| one["address"] } & [address, shipped]).size == 2 } }
    expect(found).to include({"name" => "Desk of the Ünder hall", "address" => address}, {"name" => "Quay desk", "address" => shipped})
    expect(found.map { |one| one["address"] }).to eq(found.map { |one| one["address"] }.uniq)
  end

  it "is taken by hand, moves nothing until a direction is chosen, and is good after a restart" do
    wait("the desk") { api("get", "/api/desk").last == {"address" => shipped, "answers" => true} }
    expect(api("put", "/api/desk", {address: address})).to eq([200, {"address" => address, "answers" => false}])
    wait("the difference") { on_air["changes"].any? }
    expect(on_air).to include("fault" => nil, "on_air" => include("follows" => false))
    version = api("get", "/api/shows/1").last["version"]
    expect(api("post", "/api/shows/1/edits", {version: version, edit: {kind: "power", sockets: ["box-a/mic/5"]}}).first).to eq(200)
    wait("what differs") { api("get", "/api/shows/1/desk").last["count"] > 10 }
    expect(console.show.patch).to eq(Loomshuttle::Patch::Scene.new)
    expect(api("get", "/api/shows/1/history").last.map { |one| one["label"] }).to include(start_with("Desk at #{address}: only watched"))
    expect(api("post", "/api/shows/1/on-air", {direction: "send"}).first).to eq(200)
    wait("the desk as planned") { console.show.patch.slots.size > 50 && on_air["changes"].empty? }
    @installation.kill("server", "TERM")
    @installation.start("server")
    expect(api("get", "/api/desk").last["address"]).to eq(address)
    wait("its answer") { api("get", "/api/desk").last["answers"] }
  end

  it "says which field and what is allowed, and refuses another desk while a take runs" do
    {"desk" => /address.*an IPv4 address and a port/, "1.2.3.400:7600" => /0 to 255/, "127.0.0.1:0" => /a port/, "127.0.0.1:70000" => /a port/, "::1:7600" => /IPv4/}.each do |wrong, words|
      status, answer = api("put", "/api/desk", {address: wrong})
      expect([status, answer["error"]["message"]]).to match([422, words])
    end
    wait("a device") { api("post", "/api/shows/1/capture/start", {}).first == 200 }
    expect(api("put", "/api/desk", {address: address}).last["error"]["message"]).to match(/take 1 is over/)
    expect(api("post", "/api/capture/stop", {}).first).to eq(200)
    expect(api("get", "/api/desk").last["address"]).to eq(shipped)
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "rack/mock"
require_relative "../../boot/server"

# Who may do what: every operation of the contract, asked for by everybody who could ask.
RSpec.describe Loomshuttle::Server::Contract do
  api = File.join(Loomshuttle::ROOT, "api/openapi.yaml")
  document = YAML.safe_load_file(api)
  operations = document["paths"].flat_map { |path, all| all.except("parameters").map { |method, operation| [method, path, operation["x-may"]] } }

  let(:contract) { described_class.new(->(_) { [200, {}, ["through"]] }, api) }

  # Enough of a request to be known as that operation.
  def ask(method, path, visitor)
    real = path.gsub(/\{(\w+)\}/) { (Regexp.last_match(1) =~ /show|id|number/) ? "1" : "x" }
    env = {"loomshuttle.visitor" => visitor, :input => "{}", "CONTENT_TYPE" => "application/json"}
    Rack::MockRequest.new(contract).request(method.upcase, real, **env).status
  end

  def visitor(may) = may && Loomshuttle::Server::Visitor.new(name: "Tablet", may: may, device: 1)

  it "knows of each operation who may do it" do
    expect(operations.reject { |_, _, may| [*Loomshuttle::Server::Visitor::MAY, "anyone"].include?(may) }).to eq([])
    expect(operations.map(&:last).tally.keys).to contain_exactly("anyone", "look", "stage", "operate", "lead")
  end

  [nil, *Loomshuttle::Server::Visitor::MAY].each do |may|
    it "lets #{may ? "a device that may #{may}" : "a device that was not let in"} do what it may, and nothing else" do
      allowed = may ? ["anyone", *Loomshuttle::Server::Visitor::MAY.take(Loomshuttle::Server::Visitor::MAY.index(may) + 1)] : ["anyone"]
      refused = operations.select { |method, path, _| [401, 403].include?(ask(method, path, visitor(may))) }
      expect(refused).to match_array(operations.reject { |_, _, wanted| allowed.include?(wanted) })
      expect(refused.map { |method, path, _| ask(method, path, visitor(may)) }.uniq - [may ? 403 : 401]).to eq([])
    end
  end

  it "has nothing for a look that changes anything" do
    changing = operations.select { |method, _, may| may == "look" && method != "get" }.map { |_, path, _| path[%r{[^/]+\z}] }
    expect(changing).to contain_exactly("preview", "read", "terms")
  end
end

RSpec.describe "The door" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    @word = Loomshuttle::Secrets.door(@folder).word
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  # As nginx hands a request on: with its word, and from where it came.
  def through(method, path, body = nil, cookie: nil, address: "10.0.0.9", **more)
    headers = {"x-loomshuttle-door" => @word, "x-real-ip" => address, "cookie" => cookie, **more.transform_keys { |name| name.to_s.tr("_", "-") }}.compact
    ask(method, path, body, headers)
  end

  def ask(method, path, body, headers)
    request = Net::HTTP.const_get(method.capitalize).new(path, {"content-type" => "application/json", **headers})
    request.body = JSON.generate(body) if body
    Net::HTTP.start("127.0.0.1", @installation.services.ports["http"]) { |http| http.request(request) }
  end

  def here(...) = @installation.api(...).last
  def code(may) = here("post", "/api/door/codes", {may: may}).fetch("code")

  def let_in(may, name: "Tablet", address: "10.0.0.#{rand(10..250)}")
    answer = through("post", "/api/door", {code: code(may), name: name}, address: address)
    expect(answer.code).to eq("200")
    answer["set-cookie"]
  end

  def cookie(set) = set[/\A[^;]+/]
  def devices = here("get", "/api/door/devices")

  it "knows this machine as one that may do everything, and nobody who comes from outside without a code" do
    expect(here("get", "/api/door")["visitor"]).to eq("name" => "", "may" => "lead", "device" => nil)
    expect(through("get", "/api/shows").code).to eq("401")
    expect(JSON.parse(through("get", "/api/door").body)["visitor"]).to be_nil
    expect(through("get", "/").code).to eq("200")
    expect([through("get", "/api/shows", cookie: "loomshuttle_device=#{"0" * 64}").code, through("post", "/api/door/codes", {may: "lead"}).code]).to eq(%w[401 401])
    # The word is nobody's guess: with another one it is this machine that asks.
    expect(ask("get", "/api/shows", nil, {"x-loomshuttle-door" => "guessed"}).code).to eq("200")
  end

  it "lets one device in with a code, by a cookie that no script and no other site gets, and keeps of it a digest only" do
    set = let_in("stage", name: "Phone of Ünal")
    expect(set).to match(/\Aloomshuttle_device=\h{64};/).and match(/HttpOnly/i).and match(/Secure/i).and match(/SameSite=Strict/i)
    me = cookie(set)
    expect(JSON.parse(through("get", "/api/door", cookie: me).body)["visitor"]).to include("name" => "Phone of Ünal", "may" => "stage")
    expect([through("get", "/api/shows", cookie: me).code, through("post", "/api/capture/stop", {}, cookie: me).code, through("post", "/api/door/codes", {may: "lead"}, cookie: me).code]).to eq(%w[200 403 403])
    database = Loomshuttle::Server::Store::Database.connect(@installation.services.database_url)
    expect(database[:devices].select_map(:token_digest)).not_to include(me[/\h{64}/])
    expect(database[:invitations].select_map(:code_digest)).to all(match(/\A\h{64}\z/))
  ensure
    database&.disconnect
  end

  it "refuses a code that was used, that is over, and that is none" do
    used = code("look")
    expect(through("post", "/api/door", {code: used, name: "A"}, address: "10.1.0.1").code).to eq("200")
    again = through("post", "/api/door", {code: used, name: "B"}, address: "10.1.0.1")
    expect([again.code, JSON.parse(again.body)["error"]["message"]]).to match(["422", /five minutes and one device/])
    over = code("look")
    database = Loomshuttle::Server::Store::Database.connect(@installation.services.database_url)
    database[:invitations].update(ends_at: Time.now - 1)
    expect(through("post", "/api/door", {code: over, name: "C"}, address: "10.1.0.2").code).to eq("422")
    expect(through("post", "/api/door", {code: "12345", name: "D"}, address: "10.1.0.3").code).to eq("400")
    expect(devices.map { |one| one["name"] }).not_to include("B", "C", "D")
  ensure
    database&.disconnect
  end

  it "slows down and locks out whoever guesses, and withdraws the codes that are guessed at from many addresses" do
    good = code("lead")
    wrong = ->(address) { through("post", "/api/door", {code: format("%06d", (good.to_i + 1 + rand(900_000)) % 1_000_000), name: "Guess"}, address: address).code }
    expect(Array.new(8) { wrong["10.2.0.1"] }).to eq(["422"] * 5 + ["429"] * 3)
    5.times { expect(wrong["10.2.0.2"]).to eq("422") }
    # The right one comes too late, from wherever.
    expect(through("post", "/api/door", {code: good, name: "Late"}, address: "10.2.0.3").code).to eq("422")
    20.times { wrong["10.2.0.4"] }
    expect(through("post", "/api/door", {code: code("look"), name: "Locked"}, address: "10.2.0.4").code).to eq("429")
    expect(devices.map { |one| one["name"] }).not_to include("Guess", "Late", "Locked")
    # Others go in and out meanwhile.
    expect(let_in("look", name: "Welcome", address: "10.2.0.5")).to be_a(String)
  end

  it "closes the line of a device that is taken out, and its cookie is nothing any more" do
    me = cookie(let_in("look", name: "Taken out"))
    id = devices.find { |one| one["name"] == "Taken out" }["id"]
    socket = TCPSocket.new("127.0.0.1", @installation.services.ports["http"])
    socket.write("GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: #{me}\r\nX-Loomshuttle-Door: #{@word}\r\n\r\n")
    @installation.wait("its first event") { socket.readpartial(65_536).include?("event: state") }
    expect(here("delete", "/api/door/devices/#{id}").map { |one| one["id"] }).not_to include(id)
    expect { Timeout.timeout(20) { loop { socket.readpartial(65_536) } } }.to raise_error(EOFError)
    expect(through("get", "/api/shows", cookie: me).code).to eq("401")
    expect(here("delete", "/api/door/devices/#{id}")["error"]["message"]).to include("a device that was let in")
  end

  it "gives a device another name and other rights, at once, and tells the history who it was by its session" do
    me = cookie(let_in("look", name: "Side"))
    id = devices.find { |one| one["name"] == "Side" }["id"]
    version = here("get", "/api/shows/1")["version"]
    edit = {version: version, edit: {kind: "rename", id: "list/row/1", name: "From the side"}}
    expect(through("post", "/api/shows/1/edits", edit, cookie: me).code).to eq("403")
    here("put", "/api/door/devices/#{id}", {may: "operate", name: "Side desk"})
    expect(through("post", "/api/shows/1/edits", edit, cookie: me, x_who: "Somebody%20else").code).to eq("200")
    expect(here("get", "/api/shows/1/history").first).to include("label" => "Edit", "who" => "Side desk")
    expect(through("delete", "/api/shows/1", nil, cookie: me).code).to eq("403")
  end

  it "takes nothing from another site's page, neither here nor from outside" do
    me = cookie(let_in("operate", name: "Browser"))
    port = @installation.services.ports["http"]
    [{origin: "http://evil.example"}, {origin: "null"}, {sec_fetch_site: "cross-site"}, {sec_fetch_site: "same-site"}].each do |said|
      headers = said.transform_keys { |name| name.to_s.tr("_", "-") }
      expect(ask("post", "/api/capture/reset", {}, headers).code).to eq("403")
      expect(through("post", "/api/capture/reset", {}, cookie: me, **said).code).to eq("403")
      expect(ask("delete", "/api/shows/1", nil, headers).code).to eq("403")
    end
    expect(ask("post", "/api/capture/reset", {}, {"origin" => "http://127.0.0.1:#{port}", "sec-fetch-site" => "same-origin"}).code).to eq("200")
    expect(ask("post", "/api/capture/reset", nil, {"content-type" => "text/plain"}).code).to eq("415").or eq("400")
    # Looking is no change, and a page that is opened from elsewhere opens.
    expect(ask("get", "/api/shows", nil, {"sec-fetch-site" => "cross-site"}).code).to eq("200")
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/installation"
require "support/spellings"
require "support/wire"
require_relative "../../boot/server"

# Every operation of the contract, by everybody, in every crooked spelling and by three methods: through the real
# nginx, and past it on loopback. Whoever has no code gets nowhere, and a device gets no further than it may.
RSpec.describe "A crooked path" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @installation = Installation.new(@folder).start("server", "door")
    @installation.api("put", "/api/door/way", {addresses: ["127.0.0.2"]})
    @installation.wait("the door") { TCPSocket.new("127.0.0.2", door).close || true }
    @cookies = [nil, *Loomshuttle::Server::Visitor::MAY].to_h { |may| [may, may && let_in(may)] }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  def door = @installation.services.ports["door"]
  def word = Loomshuttle::Secrets.door(@folder).word
  def here(...) = @installation.api(...).last
  def expect_refused(asked, statuses) = expect(asked.zip(statuses).reject { |_, got| got == 400 }.first(20)).to eq([])

  def nginx(headers = {}) = Wire.new("127.0.0.2", door, tls: true, headers: headers.compact)
  def loopback(headers = {}) = Wire.new("127.0.0.1", @installation.services.ports["http"], headers: headers.compact)
  def from(address) = {"X-Loomshuttle-Door" => word, "X-Real-IP" => address}

  def all_there_is
    # What is found of the show is known a moment after the start.
    shows = @installation.wait("the findings") { here("get", "/api/shows").then { |all| all if all["shows"].first["findings"] } }
    [shows, here("get", "/api/alarms"), here("get", "/api/door/devices").map { |one| one["name"] }]
  end

  # As nginx hands a request on, of an address that has guessed nothing yet.
  def through(path, body, address)
    headers = {"content-type" => "application/json", "x-loomshuttle-door" => word, "x-real-ip" => address}
    Net::HTTP.post(URI("#{@installation.address}#{path}"), JSON.generate(body), headers)
  end

  def let_in(may)
    code = here("post", "/api/door/codes", {may: may})["code"]
    through("/api/door", {code: code, name: may}, "10.0.0.1")["set-cookie"][/\A[^;]+/]
  end

  # Twenty spellings of each, others from operation to operation.
  crooked = Spellings.operations.each_with_index.flat_map do |(method, path), n|
    spelt = Spellings.of(path).values.rotate(n * 7).first(20)
    spelt.product([method, "GET", "POST", "DELETE"].uniq.first(3)).map(&:reverse)
  end

  [nil, *Loomshuttle::Server::Visitor::MAY].each do |may|
    who = may ? "a device that may #{may}" : "a stranger"

    it "is refused through nginx to #{who}" do
      expect_refused(crooked, nginx("Cookie" => @cookies[may]).statuses(crooked))
    end

    it "is refused past nginx to #{who}" do
      expect_refused(crooked, loopback(from("10.0.0.2").merge("Cookie" => @cookies[may])).statuses(crooked))
    end
  end

  it "is refused to this machine too, and leaves no trace" do
    before = all_there_is
    expect_refused(crooked, loopback.statuses(crooked))
    expect(all_there_is).to eq(before)
  end

  it "is no way to guess codes uncounted, nor one that withdraws those which hold" do
    code = here("post", "/api/door/codes", {may: "look"})["code"]
    tries = Spellings.of("/api/door").values.map { |spelt| ["POST", spelt] } * 3
    [nginx, loopback(from("10.0.0.3"))].each { |line| expect_refused(tries, line.statuses(tries)) }
    expect(through("/api/door", {code: code, name: "Came straight"}, "10.0.0.3").code).to eq("200")
  end

  # The same paths straight, so that the walk is known to ask for what there is.
  it "hands out files and lines by their straight paths alone" do
    sheet = here("get", "/api/shows/1/paper")["sheets"].first["file"]
    files = ["/api/shows/1/paper.pdf", "/api/shows/1/rows.csv", "/api/shows/1/paper/#{sheet}", "/api/events"]
    looker = nginx("Cookie" => @cookies["look"])
    straight = files.first(3).map { |path| ["GET", path] }
    expect(looker.statuses(straight)).to eq([200] * 3)
    expect(nginx.statuses([*straight, ["GET", files.last]])).to eq([401] * 4)
    asked = files.flat_map { |path| ["GET"].product(Spellings.of(path).values) }
    expect_refused(asked, looker.statuses(asked))
  end
end

# frozen_string_literal: true

require "core_helper"
require "open3"
require "support/installation"
require_relative "../../boot/server"

# The real nginx on addresses of the loopback range, which stand for the venue's network and its devices.
RSpec.describe "The front door" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    # nginx drops what it may as root, and must get through to its own folder.
    File.chmod(0o711, @folder)
    @installation = Installation.new(@folder).start("standin", "engine", "server", "door")
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  let(:address) { "127.0.0.2" }

  def port = @installation.services.ports["door"]
  def here(...) = @installation.api(...).last
  def listening?(at = address) = TCPSocket.new(at, port).close || true
  def authority = File.join(@folder, "door/authority.crt")

  def open_door(*addresses)
    here("put", "/api/door/way", {addresses: addresses})
    addresses.each { |at| @installation.wait("the door at #{at}") { listening?(at) } }
  end

  def shut?(at)
    listening?(at) && false
  rescue Errno::ECONNREFUSED
    true
  end

  # A device of the venue's network.
  def ask(method, path, body = nil, from: "127.0.0.9", at: address, **headers)
    http = Net::HTTP.new(at, port)
    http.use_ssl, http.ca_file, http.local_host = true, authority, from
    request = Net::HTTP.const_get(method.capitalize).new(path, {"content-type" => "application/json", **headers.transform_keys { |name| name.to_s.tr("_", "-") }})
    request.body = JSON.generate(body) if body
    http.start { |line| line.request(request) }
  end

  def let_in(may, name, from: "127.0.0.9")
    code = here("post", "/api/door/codes", {may: may})["code"]
    ask("post", "/api/door", {code: code, name: name}, from: from)["set-cookie"][/\A[^;]+/]
  end

  def s_client(*options) = Open3.capture2e("openssl", "s_client", "-connect", "#{address}:#{port}", "-CAfile", authority, *options, stdin_data: "").then { |text, status| [text.b, status] }

  it "is closed until somebody opens it, and closed again when he closes it" do
    here("put", "/api/door/way", {addresses: []})
    @installation.wait("a closed door") { shut?(address) }
    open_door("127.0.0.2", "127.0.0.3")
    expect(here("get", "/api/door/way")).to include("open" => %w[127.0.0.2 127.0.0.3], "urls" => ["https://127.0.0.2:#{port}/", "https://127.0.0.3:#{port}/"])
    expect(ask("get", "/", at: "127.0.0.3").code).to eq("200")
    open_door("127.0.0.3")
    @installation.wait("the other address closed") { shut?("127.0.0.2") }
    here("put", "/api/door/way", {addresses: []})
    @installation.wait("a closed door") { shut?("127.0.0.3") }
    expect(here("put", "/api/door/way", {addresses: ["8.8.8.8"]})["error"]["message"]).to match(/addresses: "8.8.8.8"/)
  end

  it "speaks TLS 1.3 alone, HTTP/2, under a certificate of the installation's own authority" do
    open_door(address)
    good, = s_client("-tls1_3", "-alpn", "h2", "-verify_return_error", "-verify_ip", address)
    expect(good).to match(/ALPN protocol: h2/).and match(/Verify return code: 0 \(ok\)/)
    old, status = s_client("-tls1_2")
    expect([status.success?, old]).to match([false, /alert protocol version|no protocols available|handshake failure/])
    expect(ask("get", "/authority.crt").body).to eq(File.read(authority))
    expect(%w[authority.key door.key nginx.conf].map { |name| format("%o", File.stat(File.join(@folder, "door", name)).mode & 0o777) }.uniq).to eq(["600"])
    # It is kept, and made anew for an address that it does not name.
    before = File.read(File.join(@folder, "door/door.crt"))
    expect { Loomshuttle::Authority.new(File.join(@folder, "door")).certify([address]) }.not_to(change { File.read(File.join(@folder, "door/door.crt")) })
    Loomshuttle::Authority.new(File.join(@folder, "door")).certify(["127.0.0.77"])
    expect(File.read(File.join(@folder, "door/door.crt"))).not_to eq(before)
    late = Loomshuttle::Authority.new(File.join(@folder, "door"), clock: -> { Time.now + 380 * 24 * 3600 })
    expect { late.certify(["127.0.0.77"]) }.to(change { File.read(File.join(@folder, "door/door.crt")) })
  end

  it "lets nobody in who has no code, whatever he says of himself" do
    open_door(address)
    said = {x_real_ip: "127.0.0.1", x_forwarded_for: "127.0.0.1", x_loomshuttle_door: "", forwarded: "for=127.0.0.1"}
    expect([ask("get", "/api/shows").code, ask("get", "/api/shows", **said).code, ask("post", "/api/door/codes", {may: "lead"}, **said).code]).to eq(%w[401 401 401])
    expect(ask("get", "/api/door", host: "loomshuttle.example:#{port}").code).to eq("403")
    # Somebody who guesses is slowed down by where he really comes from.
    here("post", "/api/door/codes", {may: "lead"})
    codes = Array.new(8) { |n| ask("post", "/api/door", {code: format("%06d", n), name: "x"}, from: "127.0.0.66", x_real_ip: "10.0.0.#{n}").code }
    expect(codes.tally).to eq("422" => 5, "429" => 3)
  end

  it "lets a device in, which then does what it may and hears what happens, at once" do
    open_door(address)
    me = let_in("operate", "Side desk", from: "127.0.0.10")
    expect([ask("get", "/api/shows", cookie: me).code, ask("post", "/api/capture/reset", {}, cookie: me, origin: "https://#{address}:#{port}").code]).to eq(%w[200 200])
    expect(ask("post", "/api/capture/reset", {}, cookie: me, origin: "https://evil.example").code).to eq("403")
    heard = Thread::Queue.new
    line = Thread.new do
      http = Net::HTTP.new(address, port)
      http.use_ssl, http.ca_file = true, authority
      http.start { |one| one.request_get("/api/events", {"cookie" => me}) { |answer| answer.read_body { |part| heard << part } } }
    rescue EOFError, OpenSSL::SSL::SSLError, SystemCallError
      heard << :closed
    end
    @installation.wait("the first event") {
      begin
        heard.pop(true).include?("event: state")
      rescue
        nil
      end
    }
    version = here("get", "/api/shows/1")["version"]
    ask("post", "/api/shows/1/edits", {version: version, edit: {kind: "rename", id: "list/row/1", name: "Over the air"}}, cookie: me)
    @installation.wait("the edit's event") {
      begin
        heard.pop(true).include?("event: show")
      rescue
        nil
      end
    }
    id = here("get", "/api/door/devices").find { |one| one["name"] == "Side desk" }["id"]
    here("delete", "/api/door/devices/#{id}")
    line.join(60)
    expect(line).not_to be_alive
    expect(ask("get", "/api/shows", cookie: me).code).to eq("401")
  end

  it "gives what does not change compressed and for good" do
    open_door(address)
    name = Dir.children(File.join(Loomshuttle::ROOT, "web/dist/assets")).grep(/\Afirst-.*\.js\z/).first
    answer = ask("get", "/assets/#{name}", accept_encoding: "gzip")
    expect(answer.to_hash).to include("content-encoding" => ["gzip"], "cache-control" => ["public, max-age=31536000, immutable"], "x-content-type-options" => ["nosniff"])
    expect(ask("get", "/assets/../../../README.md").code).to eq("400").or eq("404")
    expect(ask("get", "/")["content-security-policy"]).to include("default-src 'self'")
  end

  it "comes back when nginx is killed, and when its keeper is" do
    open_door(address)
    nginx = -> { Integer(File.read(File.join(@folder, "door/nginx.pid"))) }
    first = nginx.call
    Process.kill("KILL", first)
    @installation.wait("another nginx") { nginx.call != first && listening? }
    second = nginx.call
    @installation.kill("door")
    expect(listening?).to be(true)
    @installation.start_process("door")
    @installation.wait("an nginx of the new keeper") { nginx.call != second && listening? }
    @installation.kill("door", "TERM")
    @installation.wait("a closed door") { shut?(address) }
    @installation.start_process("door")
    @installation.wait("the door as it was") { listening? }
  end
end

# nginx drops to www-data, who gets through to no folder below a private home.
RSpec.describe "The front door of an installation in a private home" do
  before(:all) do
    # Mode 700, its owner root.
    @home = Dir.mktmpdir("loomshuttle")
    @folder = File.join(@home, "my show; \"Ünal's\"")
    @installation = Installation.new(@folder).start("server", "door", "worker")
  end

  before do
    @installation.api("put", "/api/door/way", {addresses: ["127.0.0.2"]})
    @installation.wait("the door") { TCPSocket.new("127.0.0.2", port).close || true }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf([@home, Loomshuttle::Enterable.for_nginx(@folder).folder])
  end

  def port = @installation.services.ports["door"]
  def fault = @installation.api("get", "/api/door/way").last["fault"]

  def ask(request)
    http = Net::HTTP.new("127.0.0.2", port)
    http.use_ssl, http.ca_file = true, File.join(@folder, "door/authority.crt")
    http.start { |line| line.request(request) }
  end

  it "gives the page with all that it is made of, and the certificate" do
    page = ask(Net::HTTP::Get.new("/"))
    parts = page.body.scan(%r{(?:src|href)="(/[^"]+)"}).flatten
    expect(parts.grep(/\.js\z/)).not_to be_empty
    expect([page, *parts.map { |part| ask(Net::HTTP::Get.new(part)) }].map(&:code).uniq).to eq(["200"])
    certificate = ask(Net::HTTP::Get.new("/authority.crt"))
    expect(certificate.body).to eq(File.read(File.join(@folder, "door/authority.crt")))
    expect(certificate["content-type"]).to eq("application/x-x509-ca-cert")
  end

  # More than nginx keeps in memory, both ways.
  it "takes in and hands out what is large" do
    code = @installation.api("post", "/api/door/codes", {may: "operate"}).last["code"]
    enter = Net::HTTP::Post.new("/api/door", "content-type" => "application/json")
    enter.body = JSON.generate(code: code, name: "Tablet")
    cookie = ask(enter)["set-cookie"][/\A[^;]+/]
    made = @installation.api("post", "/api/library/imports", {files: [{name: "large.wav", bytes: 3_000_000}]}).last
    part = Net::HTTP::Put.new("/api/library/imports/#{made["id"]}/files/1?from=0",
      "content-type" => "application/octet-stream", "cookie" => cookie)
    part.body = "\0" * 3_000_000
    expect(ask(part).code).to eq("200")
    guide = ask(Net::HTTP::Get.new("/guide", "cookie" => cookie))
    expect([guide.code, guide.body.bytesize]).to match(["200", be > 5000])
  end

  it "says where that passes through, and of a place where nothing can" do
    place = Loomshuttle::Enterable.for_nginx(@folder)
    expect([place.itself?, place.folder, place.fault]).to match([false, %r{\A/var/tmp/loomshuttle-0-\h{16}\z}, nil])
    expect(Loomshuttle::Enterable.new(@folder, "nobody-of-that-name").fault).to match(/may enter neither .*\/var\/tmp/)
  end

  it "says so when nginx cannot stay open, until it can" do
    taken = TCPServer.new("127.0.0.3", port)
    @installation.api("put", "/api/door/way", {addresses: ["127.0.0.3"]})
    said = @installation.wait("the trouble") { fault }
    expect(said).to match(/cannot stay open.*door\.log/)
    taken.close
    @installation.wait("the door without trouble") { fault.nil? && TCPSocket.new("127.0.0.3", port).close.nil? }
  end
end

# frozen_string_literal: true

require "core_helper"
require "cgi"
require "erb"
require "rack/mock"
require "support/spellings"
require_relative "../../boot/server"

RSpec.describe Loomshuttle::Spelling do
  paths = Spellings.operations.map(&:last).uniq

  it "is the address of every operation, and none of its crooked ones" do
    expect(paths.reject { |path| described_class.plain?(path) }).to eq([])
    let_through = paths.flat_map { |path| Spellings.of(path).select { |_, spelt| described_class.plain?(spelt) }.to_a }
    expect(let_through).to eq([])
  end

  it "leaves whatever a file may be called" do
    names = ["29 organ.wav", "Ünal & Söhne; (live)!.wav", "100%.wav", "a+b=c, d.wav", "what?.wav",
      "~#1 'take' [2] {x} |@$:^`<>\".wav", "..wav", "...", "日本.wav"]
    written = names.map { |name| described_class.encode(name) }
    expect(written.reject { |name| described_class.plain?("/api/shows/1/bounces/x/#{name}") }).to eq([])
    expect(written).to eq(names.map { |name| Spellings.written(name) })
  end

  it "is told apart as a plain model tells it apart, over random spellings" do
    random = Random.new(RSpec.configuration.seed)
    tried = Array.new(5000) { Spellings.random(paths.sample(random: random), random) }
    expect(tried.reject { |path| described_class.plain?(path) == Spellings.plain?(path) }).to eq([])
    expect(tried.count { |path| described_class.plain?(path) }).to be_between(50, 3000)
  end

  it "names the one spelling of what is crooked, which is its own" do
    random = Random.new(RSpec.configuration.seed)
    right = Array.new(2000) { described_class.of(Spellings.random("/api/shows/1/bounces/a b/ü.wav", random)) }
    expect(right.reject { |path| described_class.plain?(path) && described_class.of(path) == path }).to eq([])
    asked = Spellings.of("/api/door/codes").slice("two slashes before it", "an encoded way up", "every sign encoded",
      "a backslash within it", "another machine's absolute form", "a slash behind it")
    expect(asked.values.map { |path| described_class.of(path) }.uniq).to eq(["/api/door/codes"])
  end

  it "is read alike by Ruby and by nginx's library" do
    pattern = "^#{described_class::PATH}$"
    tried = %w[/ /a /a/b /a.b /.a /..a /%20 /a/ // /. /a/.. /%2E /; /%3B /%5C /%c3]
    read, = Open3.capture2("grep", "-P", pattern, stdin_data: tried.join("\n"))
    expect(read.split("\n")).to eq(tried.select { |path| described_class.plain?(path) })
  end
end

# The two locks, without anything before or behind them.
RSpec.describe "A path's two locks" do
  api = File.join(Loomshuttle::ROOT, "api/openapi.yaml")
  lead = Loomshuttle::Server::Visitor.new(name: "Tablet", may: "lead", device: 1)

  let(:reached) { [] }
  let(:contract) do
    Loomshuttle::Server::Contract.new(lambda { |env|
      reached << env.values_at("REQUEST_METHOD", "PATH_INFO")
      [200, {}, []]
    }, api)
  end
  let(:app) do
    app = Loomshuttle::Server::App
    app.new(**(app::STORES + app::ACTIONS).to_h { |name| [name, nil] })
  end

  def env(method, path, visitor, mark: nil)
    env = Rack::MockRequest.env_for("/", :method => method, :input => "{}", "CONTENT_TYPE" => "application/json")
    env.merge("PATH_INFO" => path, "REQUEST_URI" => path, Loomshuttle::Server::Visitor::KEY => visitor,
      Loomshuttle::Server::Contract::PASSED => mark)
  end

  it "passes on nothing that the contract does not name, by whatever method or spelling" do
    [nil, lead].each do |visitor|
      Spellings.operations.map(&:last).uniq.each do |path|
        ["#{path}/more", "#{path}.", "/more#{path}", path.upcase, path.sub("/api", "/apis"), "/api"].each do |strange|
          %w[GET POST PUT DELETE HEAD PROPFIND].each { |method| contract.call(env(method, strange, visitor)) }
        end
      end
    end
    named = OpenapiFirst.load(api)
    strange = reached.uniq.reject { |method, path| named.request(Rack::Request.new(env(method, path, nil))).operation }
    expect(strange).to eq([])
  end

  it "runs no route that the contract has not let through by that method and that path" do
    Spellings.operations.each do |method, path|
      [nil, [method, "#{path}x"], ["HEAD", path], "yes"].each do |mark|
        status, _, body = app.call(env(method, path, lead, mark: mark))
        expect([method, path, status, body.to_a.join]).to match([method, path, 403, /has not let through/])
      end
    end
    expect(app.call(env("GET", "/", nil)).first).to eq(403)
    expect(app.call(env("GET", "/guide", nil, mark: %w[GET /guide])).first).to eq(200)
  end

  it "gives pages to whoever looks, at the addresses of pages alone" do
    statuses = ->(method, paths) { paths.map { |path| contract.call(env(method, path, nil)).first }.uniq }
    pages = %w[/ /shows /shows/1-lanterns /shows/1/patch /guide /guide/rig.png /assets/first-x.js /icons/a.png
      /manifest.webmanifest /authority.crt]
    none = %w[/shows/1/patch/more /API/shows /apis /assets /guide/a/b /door/door.key /README.md /%61pi/shows]
    expect([statuses["GET", pages], statuses["POST", pages], statuses["GET", none]]).to eq([[200], [405], [404]])
  end
end

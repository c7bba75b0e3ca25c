# frozen_string_literal: true

require "core_helper"
require "support/installation"
require_relative "../../boot/supervised"
require_relative "../../boot/engine"
require_relative "../../boot/deck"

# What a power cut leaves of the small files that the next start needs: nothing, half of them, or something else.
RSpec.describe "Small files that were lost" do
  around { |example| Dir.mktmpdir("loomshuttle") { |folder| (@folder = folder) && example.run } }

  rubbish = ["", "{", "[]", "5", "null", "{\"http\":\"x\",\"admin\":7,\"own\":\"\",\"kind\":\"alsa\",\"id\":5}", "\0\0\0"].freeze

  it "leave the database as it is: it is told other passwords" do
    port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
    cluster = -> { Loomshuttle::Cluster.new(data: @folder, port: port, throw_away: true) }
    run = lambda do |&work|
      one = cluster.call
      one.prepare
      pid = spawn(*one.command, :chdir => "/", %i[out err] => File::NULL)
      one.ready
      work.call(one)
    ensure
      Process.kill("INT", pid)
      Process.wait(pid)
    end
    run.call { |one| one.admin("CREATE TABLE kept AS SELECT 7 AS seven", database: "loomshuttle") }
    path = File.join(@folder, "run/database.json")
    [*rubbish.first(3), nil].each do |text|
      text ? File.write(path, text) : File.delete(path)
      expect { run.call { |one| expect(one.admin("SELECT seven FROM kept", database: "loomshuttle")).to eq("7") } }.to output(text ? /cannot be read/ : "").to_stderr
    end
  end

  # A folder that was put together from two machines ended every start with a stack trace.
  it "leave the database as it is where they are another one's" do
    port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
    [nil, "of another", "of another"].each do |word|
      File.write(File.join(@folder, "run/database.json"), JSON.generate({admin: SecureRandom.hex(24), own: SecureRandom.hex(24)})) if word
      cluster = Loomshuttle::Cluster.new(data: @folder, port: port, throw_away: true)
      cluster.prepare
      pid = spawn(*cluster.command, :chdir => "/", %i[out err] => File::NULL)
      cluster.ready
      expect(cluster.admin(word ? "SELECT seven FROM kept" : "CREATE TABLE kept AS SELECT 7 AS seven", database: "loomshuttle")).to eq(word ? "7" : "")
    ensure
      Process.kill("INT", pid)
      Process.wait(pid)
    end
  end

  # Another device than the one that was chosen is never opened without a word.
  it "are made anew where they can be: ports, the door's words, the device" do
    rubbish.each do |text|
      FileUtils.mkdir_p(File.join(@folder, "run"))
      %w[ports door device].each { |name| File.write(File.join(@folder, "run/#{name}.json"), text) }
      expect { Loomshuttle::Supervised.new(data: @folder) }.to output(/door.json cannot be read/).to_stderr
      expect(Loomshuttle::KeptFile.read(File.join(@folder, "run/ports.json")).keys).to match_array(Loomshuttle::Services::PORTS)
      expect(Loomshuttle::Secrets.door(@folder).word).to match(/\A\h{48}\z/)
      devices = Loomshuttle::Engine::Devices.new(standin_path: "x", chosen_path: File.join(@folder, "run/device.json"))
      told = []
      expect(devices.chosen { |words| told << words }).to be_a(Loomshuttle::Engine::Device::SocketDevice)
      expect([told, devices.list.size]).to match([[/The audio device that was chosen cannot be opened/], be >= 1])
      FileUtils.rm_rf(File.join(@folder, "run"))
    end
  end

  it "leave a deck that plays nothing, and says so where something was to go on" do
    unusable = "{\"request\":{\"voices\":7,\"rate_hz\":8000},\"at_frame\":1,\"position\":0}"
    [*rubbish, "{\"request\":{\"queue\":5},\"waiting\":true,\"at_frame\":1}", "{\"request\":{\"voices\":7,\"rate_hz\":8000},\"at_frame\":\"x\",\"position\":null}",
      "{\"request\":{},\"paused\":true,\"position\":{},\"length_frames\":[]}", unusable].each_with_index do |text, at|
      path = File.join(@folder, "memory-#{at}")
      File.write(path, text)
      shared = Struct.new(:clock, :capture).new(nil, nil)
      reading = Loomshuttle::Rings::ClockPage::Reading.new(frame: 64, session: 1, rate_hz: 8000, block_frames: 64, lanes_in: 2, lanes_out: 2, mono_s: 0.0)
      ring = Loomshuttle::Rings::PlayRing.create(File.join(@folder, "play"), lanes: 2, block_frames: 64, rate_hz: 8000, slots: 250)
      shared.clock = reading
      player = Loomshuttle::Deck::Player.new(-> { ring }, -> { shared.clock })
      Loomshuttle::Deck::Control.new(player, path: File.join(@folder, "deck-#{at}.sock"), programs: Loomshuttle::Files::Programs.new(@folder), shared: shared, memory_path: path)
      answer = Loomshuttle::Runtime::LineClient.new(File.join(@folder, "deck-#{at}.sock"), who: "the deck").ask({do: "status"}, seconds: 20)
      expect([text, answer["playing"], answer["faults"].size]).to eq([text, nil, (text == unusable) ? 1 : 0])
    end
  end
end

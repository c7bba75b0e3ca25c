# frozen_string_literal: true

require "core_helper"
require "osc-ruby"
require "socket"
require "support/installation"
require "support/wav_files"
require_relative "../../demo/lanterns"

# The stage run from outside of any page, and by two at once: real server, deck, engine and desk.
RSpec.describe "The stage by OSC" do
  before(:all) do
    @folder = Dir.mktmpdir
    @installation = Installation.new(@folder).start("standin", "engine", "server")
    songs = %w[first second].map do |id|
      FileUtils.mkdir_p(File.join(@folder, "songs", id))
      File.binwrite(File.join(@folder, "songs", id, "organ.wav"), WavFiles.pcm16(Array.new(20 * 48_000) { |n| ((n * 7919) % 20_000) - 10_000 }))
      sections = [["rise", 1], ["fall", 6]].map { |name, bar| {id: name, name: name.capitalize, bar: bar} }
      {id: id, title: "The #{id}", bpm: 120, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 20 * 48_000, sections: sections,
       stems: [{name: "Organ", role: "organ", file: "organ.wav", sample_rate_hz: 48_000, frames: 20 * 48_000}]}
    end
    @installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended.merge(songs: songs)))
    @at_first = @installation.api("get", "/api/stage/osc").last
    @port = UDPSocket.new.tap { |socket| socket.bind("127.0.0.1", 0) }.then { |socket| socket.addr[1].tap { socket.close } }
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf(@folder)
  end

  # A stage that is being set up takes its card away for a moment.
  before do
    @installation.wait("the device") { go("first", instead_of: playing&.fetch("key")).first == 200 }
    hush
  end

  after { hush }

  def go(id, **more) = @installation.api("post", "#{@installation.show}/songs/#{id}/play", {onward: true, instead_of: nil, **more})
  def hush = @installation.wait("silence") { @installation.api("post", "/api/playing/stop", {}).first == 200 && playing.nil? }

  def put(**wish) = @installation.api("put", "/api/stage/osc", {listens: true, port: @port, senders: ["127.0.0.1"], **wish})
  def playing = @installation.deck(do: "status")["playing"]

  # Nil while the deck is gone.
  def told
    playing
  rescue Loomshuttle::Runtime::Gone
    nil
  end

  def plays(key) = @installation.wait(key) { playing&.then { |now| now if now["key"] == key } }

  # @return [Array, nil] the answer's address and words; nil where none came
  def say(name, *arguments, socket: UDPSocket.new, patience_s: 5)
    socket.connect("127.0.0.1", @port)
    socket.send(OSC::Message.new("/loomshuttle/#{name}", *arguments).encode, 0)
    return nil unless socket.wait_readable(patience_s)

    OSC::OSCPacket.messages_from_network(socket.recvfrom(2048).first).first.then { |message| [message.address, *message.to_a] }
  rescue Errno::ECONNREFUSED
    nil
  end

  def ok(name, *arguments) = expect(say(name, *arguments)).to eq(["/loomshuttle/ok", "/loomshuttle/#{name}"])

  it "is off until somebody wants it, and hears only who is listed" do
    expect(@at_first).to include("listens" => false, "fault" => nil)
    put(listens: false)
    @installation.wait("it to fall silent") { say("nothing", patience_s: 0.5).nil? }
    expect(put(senders: ["127.0.0.2"]).first).to eq(200)
    listed = -> { UDPSocket.new.tap { |socket| socket.bind("127.0.0.2", 0) } }
    @installation.wait("an answer") { say("nothing", patience_s: 0.5, socket: listed.call) }
    expect(say("go", patience_s: 1)).to be_nil
    expect(playing).to be_nil
    expect(put(senders: ["the desk"]).last["error"]).to include("field" => "senders", "message" => include("IPv4 addresses"))
    expect(put(port: 80).first).to eq(400)
  end

  it "runs the night, answers each message, and keeps what was pressed" do
    put
    @installation.wait("an answer") { say("nothing", patience_s: 0.5) }
    ok("go")
    expect(plays("song/first")).to include("onward" => true)
    expect(say("go")).to match(["/loomshuttle/no", "/loomshuttle/go", include("The first").and(include("look again"))])
    ok("silence", 1)
    expect(@installation.wait("silence") { playing["hushed"] }).to be(true)
    ok("silence", 0)
    ok("round", 1)
    # In the count-in all of it goes round, later its section: five bars behind the one that is counted in.
    expect([[0, 96_000 * 11], [96_000, 96_000 * 6]]).to include(@installation.wait("the loop") { playing["loop"] })
    ok("round", 0)
    ok("jump", "fall", "beat")
    @installation.wait("the jump") { playing["position_frames"] >= 96_000 * 6 }
    expect(say("jump", "bridge")).to match(["/loomshuttle/no", "/loomshuttle/jump", include("Rise, Fall")])
    ok("next")
    plays("song/second")
    expect(say("next")).to match(["/loomshuttle/no", "/loomshuttle/next", include("another one behind it")])
    ok("fade", 0.2)
    @installation.wait("the end") { playing.nil? }
    ok("go", 2)
    plays("song/second")
    ok("stop-at-bar")
    @installation.wait("the bar") { playing.nil? }
    [["go", 9], ["go", "x"], ["fade", 61.0], ["dance"], ["jump"], ["tempo", 90], ["tempo", "x"]].each { |name, *arguments| expect(say(name, *arguments)&.first).to eq("/loomshuttle/no"), name }
    log = @installation.api("get", "#{@installation.show}/presses").last.map { |press| press.values_at("label", "who") }
    expect(log.first(3)).to eq([["Stop at the bar", "OSC 127.0.0.1"], ["Go", "OSC 127.0.0.1"], ["Fade all, 0.2 s", "OSC 127.0.0.1"]])
    expect(log.map(&:first)).to include("Silence", "Back in", "Round again", "Let it go", "Jump to Fall at the beat", "Next song now")
  end

  it "is not stopped by what is no OSC, and says when its port is another's" do
    put
    @installation.wait("an answer") { say("nothing", patience_s: 0.5) }
    ["", "x", "/loomshuttle/go", "\xFF" * 900, "#bundle\0garbage"].each { |bytes| UDPSocket.new.tap { |socket| socket.connect("127.0.0.1", @port) }.send(bytes.b, 0) }
    expect(say("dance")&.first).to eq("/loomshuttle/no")
    taken = UDPSocket.new.tap { |socket| socket.bind("127.0.0.1", 0) }
    put(port: taken.addr[1])
    expect(@installation.wait("the fault") { @installation.api("get", "/api/stage/osc").last["fault"] }).to include("in use", taken.addr[1].to_s)
    taken.close
    @installation.wait("it to listen") { @installation.api("get", "/api/stage/osc").last["fault"].nil? }
  end

  it "goes on in the right place, and knows what follows, though the deck is killed, and though the server is" do
    go("first")
    @installation.wait("what follows") { @installation.deck(do: "status")["next"]&.fetch("ready") }
    at = playing.then { |now| now["frame"] - now["position_frames"] }
    @installation.kill("deck")
    @installation.start("deck")
    expect(@installation.wait("the song again") { told }.values_at("key", "onward")).to eq(["song/first", true])
    # As if nothing had been: the same frame of the song at the same frame of the device.
    expect(@installation.wait("it to sound") { playing.then { |now| now if now["position_frames"].positive? } }.then { |now| now["frame"] - now["position_frames"] }).to eq(at)
    expect(@installation.wait("what follows") { @installation.deck(do: "status")["next"]&.then { |coming| coming if coming["ready"] } }["key"]).to eq("song/second")
    @installation.kill("server")
    expect(plays("song/first")["onward"]).to be(true)
  ensure
    @installation.start("server")
  end

  it "lets one of two who press Go at once begin, and an old page cut nothing off" do
    answers = %w[first second].map { |id| Thread.new { go(id) } }.map(&:value)
    expect(answers.map(&:first)).to contain_exactly(200, 422), answers.inspect
    begun = playing["key"]
    other = (begun == "song/first") ? "second" : "first"
    expect(go(other).last["error"]).to include("field" => "playing", "message" => include("look again"))
    expect(playing["key"]).to eq(begun)
    expect(go(other, instead_of: begun).first).to eq(200)
    plays("song/#{other}")
  end
end

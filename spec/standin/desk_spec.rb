# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/standin"
require_relative "../../boot/server"
require_relative "../../bench/large_rig"
require "timeout"
require "tmpdir"

RSpec.describe Loomshuttle::Standin::Desk do
  before(:all) { @band = Loomshuttle::Standin::Band.new(sample_rate_hz: 48_000) }

  let(:console) { Loomshuttle::Standin::Console.new(show) }
  let(:desk) { described_class.new(@band, frames: 1024) }
  let(:silence) { Numo::Int32.zeros(1024, 32) }
  # A block in which everybody plays.
  let(:frame) { 4 * 28_800 + 14_400 }

  def card(returns = silence)
    desk.routing = Loomshuttle::Standin::Routing.new(console)
    desk.process(frame, returns)
  end

  def musician(index) = Numo::Int32.cast(@band.block(frame, 1024)[index, true] * 2**31)

  it "puts each musician on the lane of its socket, exact to the sample" do
    lanes = card
    expect((0...12).map { |i| lanes[true, i] == musician(i) }).to all(be(true))
  end

  it "gives silence where nothing is plugged in" do
    console.plug("list/row/9", "")
    expect(card[true, 8].abs.max).to eq(0)
  end

  it "switches a channel to its second slot, and a desk to its second set" do
    rack = hall("rack-20", slots: {"desk/return/1" => {from: "desk/card-return/5", tap: "raw"}, "desk/card-send/9" => {from: "desk/channel/1", tap: "in"}})
    switched = Loomshuttle::Standin::Console.new(rack)
    returns = Numo::Int32.zeros(1024, 22)
    returns[true, 4] = Numo::Int32.new(1024).seq(-500) * 256
    lane = lambda do
      desk.routing = Loomshuttle::Standin::Routing.new(switched)
      desk.process(frame, returns)[true, 8]
    end
    expect([lane.call == returns[true, 4], switched.turn("desk/channel/1", 1), lane.call == returns[true, 4]]).to eq([false, nil, true])
    expect([switched.turn("desk/channel/1", 0), lane.call == returns[true, 4], switched.turn("desk", 1)]).to eq([nil, false, "Desk has no switch between two sets."])
  end

  # Directly and through a group without latency: twice the same sample, +6.02 dB.
  it "sends groups on to the main, on real samples" do
    console.slot("desk/output/1", "desk/main/1", "post-fader", 0.0)
    main = -> { card[true, 24].dup }
    (2..32).each { |n| console.unroute("desk/channel/#{n}", "desk/main/1") }
    console.route("desk/channel/1", "desk/main/1", "post-fader", -12.0)
    direct = main.call
    console.route("desk/channel/1", "desk/bus/7", "post-fader", -12.0)
    console.route("desk/bus/7", "desk/main/1", "post-fader", 0.0)
    expect(20 * Math.log10(main.call.abs.max.to_f / direct.abs.max)).to be_within(0.02).of(6.02)
  end

  it "applies the preamp's gain to real samples" do
    console.gain("box-a/mic/1", -6.0)
    ratio = card[true, 0].abs.max.to_f / musician(0).abs.max
    expect(20 * Math.log10(ratio)).to be_within(0.01).of(-6)
  end

  it "clips at full scale as a converter does" do
    console.gain("box-a/mic/1", 60.0)
    expect(card[true, 0].minmax).to match([be_between(-2**31, -2**31 + 256), be_between(2**31 - 512, 2**31)])
  end

  it "listens to the computer where the feed is turned" do
    console.slot("desk/channel/1", "desk/card-return/5", "raw", 0.0)
    console.slot("desk/output/1", "desk/channel/1", "in", 0.0)
    returns = silence.dup
    returns[true, 4] = Numo::Int32.new(1024).seq(-500) * 256
    expect(card(returns)[true, 24]).to eq(returns[true, 4])
  end

  it "lets a raw lane stay on its socket whatever the channel does" do
    before = card[true, 0].dup
    console.fader("desk/channel/1", -40.0)
    console.mute("desk/channel/1", 1)
    console.slot("desk/channel/1", "desk/card-return/1", "raw", 0.0)
    expect(card[true, 0]).to eq(before)
  end

  it "mutes and fades what listeners hear" do
    heard = lambda do
      card
      desk.peaks.to_a.last(6)
    end
    full = heard.call
    (1..12).each { |n| console.fader("desk/channel/#{n}", -20.0) }
    faded = heard.call
    expect(20 * Math.log10(faded[0] / full[0])).to be_within(0.1).of(-20)
    expect(faded[2]).to be_within(1e-6).of(full[2])
    (1..12).each { |n| console.mute("desk/channel/#{n}", 1) }
    expect(heard.call).to all(eq(0.0))
  end

  it "refuses what it does not have, and says what is allowed" do
    expect(console.gain("box-a/mic/1", 90.0)).to eq("box-a/mic/1: 90.0 dB is outside -12.0 to 60.0 dB")
    expect(console.fader("desk/channel/99", 0.0)).to eq("there is no desk/channel/99")
    expect(console.slot("nowhere/x/1", "", "", 0.0)).to include("no nowhere/x/1")
  end

  it "has a band that plays in time: kick and click fall on the same frames" do
    kick = @band.block(0, 4096)[4, true]
    expect(kick.abs.gt(0.01).where[0]).to be < 100
    expect(@band.length_frames).to eq(8 * 4 * 28_800)
  end
end

RSpec.describe Loomshuttle::Standin::ControlPort do
  # OSC 1.0, the specification's two worked messages; our packets go through the gem osc-ruby.
  it "speaks through a library that encodes the specification's examples" do
    first = OSC::Message.new("/oscillator/4/frequency", 440.0).encode
    second = OSC::Message.new("/foo", 1000, -1, "hello", 1.234, 5.678).encode
    expect(first).to eq(["/oscillator/4/frequency", ",f", 440.0].pack("a24a4g"))
    expect(second.bytesize).to eq(40)
  end

  let(:port) { Addrinfo.tcp("127.0.0.1", 0).bind { |socket| socket.local_address.ip_port } }
  let(:console) { Loomshuttle::Standin::Console.new(show) }

  def ask(socket, *message)
    socket.send(OSC::Message.new(*message).encode, 0, "127.0.0.1", port)
    OSC::OSCPacket.messages_from_network(socket.recvfrom(65_535).first).first.then { |answer| [answer.address, *answer.to_a] }
  end

  it "answers every request, good or bad, and goes on" do
    changes = 0
    described_class.new(console, port: port, codec: codec) { changes += 1 }
    socket = UDPSocket.new
    expect(ask(socket, "/gain", 1, "box-a/mic/1", -3.0)).to eq(["/ok", 1])
    expect(ask(socket, "/mute", 2, "desk/channel/99", 1)).to eq(["/no", 2, "there is no desk/channel/99"])
    expect(ask(socket, "/dance", 3)).to eq(["/no", 3, "there is no /dance"])
    expect(ask(socket, "/slot", 4).first).to eq("/no")
    socket.send("garbage", 0, "127.0.0.1", port)
    expect(socket.recvfrom(1000).first).to start_with("/no")
    expect([ask(socket, "/sum", 5), changes]).to eq([["/state/sum", console.checksum, console.gear_sum], 1])
  end

  it "sets another stage up from a show file in parts, and refuses one without a desk" do
    described_class.new(console, port: port, codec: codec) { nil }
    socket = UDPSocket.new
    send_stage = ->(staged) {
      Loomshuttle::Exchange::ShowFile.write(staged).b.scan(/.{1,9000}/mn).then do |parts|
        parts.each_with_index.map { |part, i| ask(socket, "/stage", i, i, parts.size, part) }
      end
    }
    grown = show(edit("device", id: "box-b", profile: "stage-box-16x8", name: "Box Ü"), edit("rows", rows: {"list/row/13" => {name: "Saw"}}))
    expect(send_stage.call(grown).map(&:first).uniq).to eq(["/ok"])
    expect([console.show.rig.devices["box-b"].name, console.show.patch]).to eq(["Box Ü", grown.patch])
    expect(send_stage.call(show(edit("remove_device", id: "desk"))).last).to include("a stage needs a desk with a card")
  end

  let(:codec) { Loomshuttle::Shelf.show_file }
end

RSpec.describe Loomshuttle::Standin::Runner do
  def free_port = Addrinfo.udp("127.0.0.1", 0).bind { |socket| socket.local_address.ip_port }
  # Whoever was let in by a card that goes away is told nothing: he asks again.
  def head(card) = UNIXSocket.open(card) { |socket| socket.wait_readable(2) && JSON.parse(socket.gets) }

  around { |example| Dir.mktmpdir("standin") { |folder| (@folder = folder) && example.run } }

  let(:card) { File.join(@folder, "run/card.sock") }

  # Waits until a condition holds, whatever the desk is doing now, without taking its time.
  def wait_for(seconds: 60)
    Timeout.timeout(seconds) do
      loop do
        found = begin
          yield
        rescue SystemCallError, JSON::ParserError, TypeError, NoMethodError
          nil
        end
        return found if found

        sleep 0.05
      end
    end
  end

  it "goes off and comes back as another desk, or at another rate, with the patch that it was told" do
    control = free_port
    codec = Loomshuttle::Shelf.show_file
    runner = described_class.new(show, card_path: card, control_port: control, codec: codec, kept_in: File.join(Loomshuttle::ROOT, "tmp"))
    thread = Thread.new { runner.run }
    desk = Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(control))
    expect(wait_for { head(card) }).to include("lanes_in" => 32, "rate_hz" => 48_000)
    other = hall("rack-20", sample_rate_hz: 44_100)
    desk.stage(other)
    wait_for { head(card).values_at("lanes_in", "rate_hz") == [22, 44_100] }
    expect(desk.has?(other.patch)).to be(true)
    expect(desk.state.slots).to eq(other.patch.slots)
  ensure
    thread&.kill
  end

  it "is read whole, however much it holds" do
    control = free_port
    console = Loomshuttle::Standin::Console.new(Bench::LargeRig.show)
    Loomshuttle::Standin::ControlPort.new(console, port: control, codec: nil) { nil }
    state = Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(control)).state
    expect([state.slots.size, state.sends, state.plugs]).to eq([console.show.patch.slots.size, console.show.patch.sends, console.show.patch.plugs])
  end

  it "has the same music when that was kept, and makes it anew where what is kept is not whole" do
    kept = File.join(@folder, "tmp")
    music = -> { Loomshuttle::Standin::Band.new(sample_rate_hz: 44_100, kept_in: kept).then { |band| band.block(40_000, 8_192).dup } }
    made = music.call
    path, = Dir[File.join(kept, "*")]
    expect([music.call == made, made.abs.max > 0.1]).to eq([true, true])
    File.truncate(path, 1000)
    expect([music.call == made, Dir[File.join(kept, "*")], File.size(path) > 40_000_000]).to eq([true, [path], true])
  end

  it "keeps what it has over a power cut" do
    path = File.join(@folder, "desk.loom.json")
    control = free_port
    codec = Loomshuttle::Shelf.show_file
    runner = described_class.new(show, card_path: card, control_port: control, codec: codec, kept_in: File.join(Loomshuttle::ROOT, "tmp"), state_path: path)
    thread = Thread.new { runner.run }
    Loomshuttle::Server::Links::DeskLink.new(Loomshuttle::Server::Links::DeskAddress.loopback(control)).stage(planted)
    wait_for { File.exist?(path) }
    expect(Loomshuttle::Standin.remembered(codec, path).patch).to eq(planted.patch)
    # The line was cut in the middle of a block's turn: no plan may have that, this desk does.
    half = JSON.parse(File.read(path)).tap { |data| data["patch"]["slots"]["desk/channel/2"]["from"] = "desk/card-return/2" }
    expect { codec.parse(JSON.generate(half)) }.to raise_error(Loomshuttle::BadInput, /block in line/)
    File.write(path, JSON.generate(half))
    expect(Loomshuttle::Standin.remembered(codec, path).patch.slots["desk/channel/2"].from).to eq("desk/card-return/2")
    File.write(path, "{\"version\": 1")
    expect { expect(Loomshuttle::Standin.remembered(codec, path)).to be_nil }.to output(/put aside/).to_stderr
    expect(Dir.glob("desk*", base: @folder)).to eq(["desk.loom.json.unusable"])
  ensure
    thread&.kill
  end
end

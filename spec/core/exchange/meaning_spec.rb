# frozen_string_literal: true

require "core_helper"

# Show files whose shape is right and whose meaning is not: refused with place, value and what is
# allowed, all together; never a hang, a stack trace or a silent change.
RSpec.describe Loomshuttle::Exchange::Meaning do
  let(:codec) { Loomshuttle::Shelf.show_file }
  let(:data) { JSON.parse(Loomshuttle::Exchange::ShowFile.write(show)) }

  def faults(text = JSON.generate(data))
    codec.parse(text)
    []
  rescue Loomshuttle::BadInput => e
    e.faults.map(&:message)
  end

  it "finds nothing in what we write ourselves" do
    [show, planted, rack, *%w[desk-48 rack-16 rack-20 desk-32-compact].map { |name| hall(name) }].each do |one|
      expect(codec.parse(Loomshuttle::Exchange::ShowFile.write(one))).to eq(one)
    end
  end

  own = lambda do |data, change|
    profile = Loomshuttle::Shelf.profiles["stage-box-16x8"].to_data.merge("name" => "own-box")
    data["profiles"] = [change.call(JSON.parse(JSON.generate(profile)))]
  end
  {
    "an offset beyond the choices, however large" => [->(d) { d["devices"][1]["settings"] = {"output_offset" => 300_000_000} }, /devices\/box-a\/settings\/output_offset: 300000000 is not usable; 0, 8/],
    "a setting that the device has not" => [->(d) { d["devices"][0]["settings"] = {"lamp" => 1} }, /settings\/lamp: 1 is not usable; settings of this device/],
    "a number beyond all bounds" => [->(d) { d["cables"][0]["length_m"] = 10**30 }, /cables\/0\/length_m/],
    "a mode that the port has not" => [->(d) { d["devices"][2]["modes"] = {"interface" => "nonsense"} }, /modes\/interface: "nonsense" is not usable; 48x48, 2x2/],
    "a clock through analogue lines" => [->(d) { d["devices"][0]["clock"] = "lines" }, /devices\/desk\/clock: "lines" is not usable; leader/],
    "a row twice" => [->(d) { d["rows"] << d["rows"][0] }, /rows\/id: "list\/row\/1" is not usable; each id once/],
    "a track twice" => [->(d) { d["tracks"] << d["tracks"][0] }, /tracks\/id: "rec\/track\/1"/],
    "a song twice" => [->(d) { d["songs"] << d["songs"][0] }, /songs\/id/],
    "a track that is a channel" => [->(d) { d["tracks"][0]["place"] = "desk/channel/1" }, /place: "desk\/channel\/1" is not usable; a track of a recording computer/],
    "a track of no row" => [->(d) { d["tracks"][0]["row"] = "list/row/99" }, /row: "list\/row\/99"/],
    "a pair with nobody, and with itself" => [->(d) { d["rows"][3]["pair"] = "list/row/99" and d["rows"][4]["pair"] = "list/row/5" }, /rows\/list\/row\/4\/pair.*\n.*rows\/list\/row\/5\/pair/],
    "a delay that no output has" => [->(d) { d["patch"]["slots"]["desk/output/1"]["delay_ms"] = 5000 }, /delay_ms: 5000.0 is not usable; 0 to/],
    "a tap that the source has not" => [->(d) { d["patch"]["slots"]["desk/output/1"]["tap"] = "bogus" }, /tap: "bogus"/],
    "a closed block out of line" => [->(d) { d["patch"]["slots"]["desk/channel/3"]["from"] = "desk/aes50-a-in/7" }, /its block in line/],
    "a slot that takes another device's place" => [->(d) { d["patch"]["slots"]["desk/channel/3"]["from"] = "rec/lane-in/3" }, /from: "rec\/lane-in\/3" is not usable; what this slot can take/],
    "a send from a bus to a bus that takes none" => [->(d) { d["patch"]["sends"]["desk/bus/1"] = {"desk/bus/2" => {}} }, /sends\/desk\/bus\/1\/desk\/bus\/2/],
    "a row plugged into a bus" => [->(d) { d["patch"]["plugs"]["list/row/1"] = "desk/bus/1" }, /plugs\/list\/row\/1: "desk\/bus\/1" is not usable; a microphone socket/],
    "a desk turned that has no second set" => [->(d) { d["patch"]["turned"] = ["desk"] }, /turned: "desk"/],
    "a device that is called like the list" => [->(d) { d["devices"] << {"id" => "songs", "name" => "X", "profile" => "wedge"} }, /devices\/songs: "songs"/],
    "control characters in a name" => [->(d) { d["rows"][0]["name"] = "Dr\u0007um" }, /rows\/0\/name: "Dr\?um" is not usable; text without control characters/],
    "a cable of two standards" => [->(d) { d["cables"][0]["b"] = "desk/card" }, /no cable|a AES50 port/],
    "a port cabled to itself" => [->(d) { d["cables"][1]["b"] = d["cables"][1]["a"] }, /a port of another device/],
    "a name for nothing" => [->(d) { d["names"]["desk/bus/99"] = "X" }, /names: "desk\/bus\/99"/],
    "a profile whose wire skips by no setting" => [->(d) { own.call(d, ->(p) { p.merge("wires" => [p["wires"][0].merge("skip" => "lamp")]) }) }, /skip: "lamp" is not usable/],
    "a setting whose default is a text" => [->(d) { own.call(d, ->(p) { p.merge("settings" => [p["settings"][0].merge("default" => "x")]) }) }, /default: "x" is not usable/],
    "a family whose latency is a text" => [->(d) { own.call(d, ->(p) { p.merge("families" => [p["families"][0].merge("latency_samples" => "soon"), *p["families"].drop(1)]) }) }, /latency_samples: "soon"/],
    "a port without a mode" => [->(d) { own.call(d, ->(p) { p.merge("ports" => [p["ports"][0].merge("modes" => {})]) }) }, /modes: \{\} is not usable; at least one mode/]
  }.each do |what, (spoil, message)|
    it "refuses #{what}" do
      spoil.call(data)
      expect(faults.join("\n")).to match(message)
    end
  end

  it "tells all of them together" do
    data["rows"][0]["pair"] = "list/row/99"
    data["tracks"][0]["row"] = "list/row/98"
    data["devices"][0]["clock"] = "lines"
    expect(faults.size).to eq(3)
  end

  it "takes a byte-order mark, and refuses bytes that are no UTF-8" do
    text = JSON.generate(data)
    expect(faults("\uFEFF#{text}")).to eq([])
    expect(faults(text.b.sub("Hurdy-gurdy".b, "Hurdy\xff".b)).first).to include("text in UTF-8")
  end

  it "refuses infinite levels" do
    text = JSON.generate(data).sub(/"level_db":-?[\d.]+/, '"level_db":1e999')
    expect(faults(text)).not_to eq([])
  end
end

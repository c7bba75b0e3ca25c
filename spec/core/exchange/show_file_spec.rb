# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Exchange::ShowFile do
  let(:codec) { described_class.new(schemas: Loomshuttle::Shelf.show_schemas, profiles: Loomshuttle::Shelf.profiles) }
  let(:data) { JSON.parse(described_class.write(planted)) }

  def parse(data) = codec.parse(data.is_a?(String) ? data : JSON.generate(data))

  it "gives the same show back" do
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(planted, keep: ["desk/channel/12"]).edit.apply(planted)
    expect([planted, swung].map { |one| codec.parse(described_class.write(one)) }).to eq([planted, swung])
  end

  it "is the file that ships in demo/" do
    expect(parse(File.read(File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json")))).to eq(planted)
  end

  {
    "a newer version" => [->(d) { d.merge("version" => 9) }, /version: 9 is not usable; this program reads versions up to 2; a newer one wrote this file/],
    "no version" => [->(d) { d.except("version") }, /version: nil/],
    "a file cut short" => [->(d) { JSON.generate(d)[0, 400] }, /must be whole JSON/],
    "an unknown profile" => [->(d) {
      d.tap do
        d["devices"][0]["profile"] = "warp-desk"
      end
    }, /devices\/desk\/profile: "warp-desk" is not usable; one of delay-tower, desk-32/],
    "a port that is not there" => [->(d) { d.tap { d["cables"][0]["a"] = "box-a/madi" } }, /cables: "box-a\/madi".*aes50/],
    "a slot that is not there" => [->(d) {
      d.tap do
        d["patch"]["slots"]["desk/channel/77"] = {"from" => "desk/mic/1"}
      end
    }, /patch\/slots: "desk\/channel\/77"/],
    "a source that is not there" => [->(d) {
      d.tap do
        d["patch"]["slots"]["desk/channel/1"] = {"from" => "moon/mic/1"}
      end
    }, /patch\/slots\/desk\/channel\/1\/from: "moon\/mic\/1"/],
    "a plug of no row" => [->(d) { d.tap { d["patch"]["plugs"]["list/row/99"] = "box-a/mic/1" } }, /patch\/plugs: "list\/row\/99"/],
    "a send to nowhere" => [->(d) {
      d.tap do
        d["patch"]["sends"]["desk/channel/1"] = {"desk/bus/99" => {}}
      end
    }, /patch\/sends: "desk\/bus\/99"/],
    "many faults" => [->(d) { d.tap { d["rows"].each { |row| row["colour"] = "pink" } } }, %r{/rows/0/colour.*/rows/7/colour}],
    "a list" => [->(_) { "[]" }, /version: nil/]
  }.each do |name, (broken, message)|
    it("refuses #{name} with its place") { expect { parse(broken.call(data)) }.to raise_error(Loomshuttle::BadInput, message) }
  end
end

RSpec.describe Loomshuttle::Patch::Scene do
  it "has one checksum whatever the order in which it was made" do
    slots = planted.patch.slots
    turned = planted.patch.with(slots: slots.to_a.reverse.to_h.freeze)
    expect(turned.checksum).to eq(planted.patch.checksum)
    expect(show.patch.checksum).not_to eq(planted.patch.checksum)
  end
end

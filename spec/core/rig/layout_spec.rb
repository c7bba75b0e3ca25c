# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Rig::Layout do
  let(:rig) { show.rig }

  {
    "desk/channel/9" => "channel 9",
    "box-a/mic/9" => "Box A socket 9",
    "desk/mic/9" => "local socket 9",
    "pa/in/1" => "Main PA L",
    "pa/in/2" => "Main PA R",
    "booth/in/1" => "Booth wedge",
    "rec/track/3" => "track 3",
    "desk/second-out/4" => "Quay desk second out 4",
    "nowhere/x/1" => "nowhere/x/1"
  }.each { |id, words| it("calls #{id} #{words}") { expect(rig.label(id)).to eq(words) } }

  it "tells what a patch can name from what the model has" do
    compact = Loomshuttle::Demo.mended.tap { |data| data[:devices].first[:profile] = "desk-32-compact" }
      .then { |data| Loomshuttle::Demo.show(data).rig }
    expect(%w[desk/mic/16 desk/mic/17 desk/mic/33 desk/mic/0 desk/none/1].map { |id| [compact.named?(id), compact.present?(id)] })
      .to eq([[true, true], [true, false], [false, false], [false, false], [false, false]])
  end
end

RSpec.describe Loomshuttle::Rig::Profile do
  Loomshuttle::Shelf.profiles.each_value do |profile|
    describe profile.name do
      it "has no fault of its own, and goes to data and back" do
        expect(Loomshuttle::Rig::ProfileForm.faults(profile)).to eq([])
        expect(described_class.from_h(JSON.parse(JSON.generate(profile.to_data)))).to eq(profile)
      end

      it "is for an audience when it listens, and only then" do
        expect(%w[audience performers crew].include?(profile.audience)).to be(profile.listener?)
      end
    end
  end

  # Links, from memory of the standards: AES50 carries 48 lanes each way at 44.1/48 kHz and
  # 24 at 88.2/96 kHz.
  it "gives AES50 its lanes at each sample rate" do
    ports = Loomshuttle::Shelf.profiles.values.flat_map { |profile| profile.ports.values }.select { |port| port.standard == "AES50" }
    expect(ports.map { |port| [44_100, 48_000, 88_200, 96_000].map { |rate_hz| port.lanes_at(rate_hz) } }.uniq).to eq([[48, 48, 24, 24]])
  end
end

RSpec.describe Loomshuttle::Signal::Graph do
  it "carries fewer lanes over a cable at 96 kHz" do
    data = Loomshuttle::Demo.mended
    slow, fast = [48_000, 96_000].map { |rate_hz|
      Loomshuttle::Demo.show(data.merge(sample_rate_hz: rate_hz)).graph.edges.count do |edge|
        edge.kind == :cable
      end
    }
    expect([slow, fast]).to eq([48 * 2 + 32 * 2, 24 * 2 + 16 * 2])
  end

  it "puts a second box behind the first by its offset" do
    data = Loomshuttle::Demo.mended
    data[:devices] << {id: "box-b", name: "Box B", profile: "stage-box-16x8", rate_hz: 48_000, clock: "aes50"}
    data[:cables] << {a: "box-b/aes50", b: "desk/aes50-b", kind: "Cat 5e", length_m: 20, offset_a_to_b: 16}
    expect(Loomshuttle::Demo.show(data).graph.fixed_onward("box-b/mic/1")).to eq(%w[box-b/link-out/1 desk/aes50-b-in/17])
  end

  it "gives a raw tap on a channel its socket, and nothing when it listens to the computer" do
    raw = rack
    turned = edit("connect", slot: "desk/channel/1", from: "desk/card-return/1").apply(raw)
    expect([raw, turned].map { |one| one.graph.line_back("desk/card-send/1").last }).to eq(%w[list/row/1 desk/card-send/1])
  end
end

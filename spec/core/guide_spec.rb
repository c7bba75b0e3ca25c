# frozen_string_literal: true

require "core_helper"

# From nothing to a show that can be recorded, by what the guide offers alone.
RSpec.describe Loomshuttle::Screens::Guide do
  let(:empty) { codec.build({"version" => 2, "name" => "New", "sample_rate_hz" => 48_000, "devices" => [], "patch" => {}}) }
  let(:codec) { Loomshuttle::Shelf.show_file }

  def take(show, offer)
    after = Loomshuttle::Edits.from_outside(JSON.parse(JSON.generate(offer[:edit]))).apply(show)
    expect(after).to be_a(Loomshuttle::Show), -> { after.why }
    after
  end

  def lead(show, &choose)
    3.times do
      step = described_class.of(show)[:next] or break
      show = take(show, choose.call(step))
    end
    show
  end

  5.times do |rig|
    it "leads to tracks that hold what each socket gives, without a finding that stops (gear #{rig + 1})" do
      made = lead(empty) { |step| (step[:key] == "gear") ? step[:offers][rig] : step[:offers].first }
      expect(described_class.of(made)).to include(next: nil, steps: all(include(done: true)))
      expect(made.tracks.size).to eq(made.rows.size)
      made.tracks.each_value do |track|
        expect(made.graph.line_back(track.place).last).to eq(track.row)
        expect(track.armed).to be(true)
      end
      found = Loomshuttle::Checks::All.findings(made).select { |finding| finding.severity == "stop" }
      expect(found.map(&:title)).to eq([])
      expect(codec.parse(Loomshuttle::Exchange::ShowFile.write(made))).to eq(made)
    end
  end

  it "offers 32 rows where there are as many sockets, and fewer" do
    furnished = take(empty, described_class.of(empty)[:next][:offers].first)
    expect(described_class.of(furnished)[:next][:offers].map { |offer| offer[:label][/\d+/].to_i }).to eq([32, 24, 16, 8])
    expect(furnished.rig.cables.map { |cable| [cable.a, cable.b].sort }).to match_array([%w[box/aes50 desk/aes50-a], %w[desk/card rec/interface]])
    expect(furnished.rig.devices.transform_values(&:clock)).to eq("desk" => "leader", "box" => "aes50", "rec" => "interface")
  end

  it "adds to gear that is there, and refuses what it does not know" do
    more = edit("furnish", profiles: %w[stage-box-16x8 wedge wedge]).apply(show)
    expect(more.rig.devices.keys - show.rig.devices.keys).to eq(%w[box wedge wedge-2])
    expect(more.rig.cables.last).to have_attributes(a: "box/aes50", b: "desk/aes50-b")
    expect(edit("furnish", profiles: %w[theremin]).apply(show)).to be_a(Loomshuttle::Refusal).and have_attributes(value: "theremin")
    expect(edit("furnish", profiles: ["wedge"] * 13).apply(show)).to be_a(Loomshuttle::Refusal)
  end

  it "says which row has no way" do
    expect(edit("run_through", desk: "pa", computer: "rec").apply(show)).to have_attributes(field: "desk")
    bare = take(empty, described_class.of(empty)[:next][:offers].first)
    expect(edit("run_through", desk: "desk", computer: "rec").apply(bare)).to have_attributes(why: "No row of the input list is plugged in yet.")
  end
end

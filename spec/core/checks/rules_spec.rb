# frozen_string_literal: true

require "core_helper"

# Each rule with a show that raises it and a close neighbour that must not.
RSpec.describe "The checks" do
  it "find nothing in a show without mistakes" do
    expect(titles(show)).to eq([])
  end

  it "find the demo's two planted mistakes, and each mend clears its own" do
    expect(titles(planted)).to eq(["Lanes 9–12 record silence", "Click reaches Livestream"])
    mended = finding(planted, "silent-lane").mend.edit.apply(planted)
    expect(titles(mended)).to eq(["Click reaches Livestream"])
    expect(finding(mended, "click-reach").mend.edit.apply(mended).patch).to eq(show.patch)
  end

  describe "silent-lane" do
    it "says which lanes, what they take and where the sources are" do
      expect(finding(planted, "silent-lane")).to have_attributes(severity: "stop", step: "patch",
        what: "Their block takes local socket 9–12. Accordion, Toy piano, Foley table and Narrator are plugged in at Box A socket 9–12.",
        endpoints: include("desk/card-send/9", "rec/track/12"))
    end

    it "says when another source is recorded instead of silence" do
      swapped = show(edit("plug", row: "list/row/1", socket: "box-a/mic/2"), edit("plug", row: "list/row/2", socket: "box-a/mic/1"))
      expect(titles(swapped)).to include("Lanes 1–2 record the wrong source")
    end

    it "leaves tracks of rows that are not plugged in alone" do
      expect(rules(show(edit("plug", row: "list/row/9", socket: nil)))).not_to include("silent-lane")
    end
  end

  describe "click-reach" do
    it "leaves a click that only performers hear alone" do
      expect(rules(show)).not_to include("click-reach")
    end

    it "warns when no performer hears it" do
      deaf = show(*%w[bus/1 bus/2].map { |bus| edit("send", channel: "desk/channel/31", mix: "desk/#{bus}", on: false) })
      expect(finding(deaf, "click-reach")).to have_attributes(severity: "warn", title: "Click reaches no performer")
    end

    it "offers no mend that would take the click from a performer" do
      shared = show(edit("connect", slot: "stream/in/1", from: "box-a/out-socket/2"))
      expect(finding(shared, "click-reach")).to have_attributes(title: "Click reaches Livestream", mend: nil)
    end

    it "also sees the house" do
      expect(titles(show(edit("send", channel: "desk/channel/31", mix: "desk/main/1")))).to eq(["Click reaches Main PA"])
    end
  end

  describe "mixed-feed" do
    let(:half) { show(edit("connect", slot: "desk/channel/1", from: "desk/card-return/1")) }

    it "finds half a swing and turns all back" do
      expect(finding(half, "mixed-feed").what).to eq("Channels 1–8 listen to the recorder, channels 9–12 to the stage.")
      expect(finding(half, "mixed-feed").mend.edit.apply(half).patch).to eq(show.patch)
    end

    it "accepts what stays on the stage on purpose" do
      chosen = Loomshuttle::Soundcheck::Swing.to_recorder(show, keep: ["desk/channel/12"]).edit.apply(show)
      expect(rules(chosen)).to eq([])
    end
  end

  describe "no-socket" do
    let(:data) { Loomshuttle::Demo.mended.tap { |data| data[:devices].first[:profile] = "desk-32-compact" } }

    it "finds slots that take sockets which a compact body lacks" do
      data[:patch][:slots].merge!(Loomshuttle::Demo.block("desk/channel", 17, "desk/mic", 17))
      found = finding(Loomshuttle::Demo.show(data), "no-socket")
      expect(found).to have_attributes(title: "Local socket 17–24 are not on this model", what: "Channel 17–24 take local socket 17–24, but this model ends at 16.")
      expect(rules(found.mend.edit.apply(Loomshuttle::Demo.show(data)))).not_to include("no-socket")
    end

    it "leaves the sockets that are there alone" do
      expect(rules(Loomshuttle::Demo.show(data))).not_to include("no-socket")
    end
  end

  describe "shared" do
    it "finds two rows in one socket and moves the second to a free one" do
      crowded = show(edit("plug", row: "list/row/2", socket: "box-a/mic/1"))
      found = finding(crowded, "shared")
      expect(found).to have_attributes(severity: "stop", what: "Hurdy-gurdy and Cimbalom L are both plugged in at Box A socket 1.")
      expect(rules(found.mend.edit.apply(crowded))).not_to include("shared")
    end

    it "finds a socket on two channels until it is marked as a wanted split" do
      double = show(edit("connect", slot: "desk/channel/17", from: "desk/aes50-a-in/1"))
      expect(finding(double, "shared")).to have_attributes(title: "8 sources are on 2 channels each", what: /\AChannels 1–8 and channels 17–24 take the same sockets: Hurdy-gurdy, /)
      expect(rules(finding(double, "shared").mend.edit.apply(double))).to eq([])
    end

    it "names a single socket on two channels by its source" do
      single = show(edit("open_block", slot: "desk/channel/17"), edit("connect", slot: "desk/channel/20", from: "desk/aes50-a-in/1"))
      expect(finding(single, "shared").title).to eq("Hurdy-gurdy is on channels 1, 20")
      expect(rules(finding(single, "shared").mend.edit.apply(single))).to eq([])
    end

    it "does not mind empty sockets on two channels" do
      expect(rules(show(edit("connect", slot: "desk/channel/25", from: "desk/mic/1")))).not_to include("shared")
    end
  end

  describe "rate-match" do
    it "finds a device at another rate and sets it" do
      odd = show(edit("device_rate", device: "rec", rate_hz: 44_100))
      expect(finding(odd, "rate-match").what).to eq("Logbook is set to 44.1 kHz, the show runs at 48 kHz.")
      expect(rules(finding(odd, "rate-match").mend.edit.apply(odd))).to eq([])
    end

    it "finds a stem at another rate" do
      data = Loomshuttle::Demo.mended
      data[:songs][0][:stems][0][:sample_rate_hz] = 44_100
      expect(titles(Loomshuttle::Demo.show(data))).to eq(["Marsh organ is at 44.1 kHz"])
    end

    it "does not ask a loudspeaker for its rate" do
      expect(show.rig.devices["pa"].rate_hz).to be_nil
      expect(rules(show)).not_to include("rate-match")
    end
  end

  describe "coloured-tap" do
    {"post-fader" => "every fader move of the night", "post-eq" => "the equaliser"}.each do |tap, held|
      it "finds a track that is recorded #{tap} and takes it raw" do
        coloured = rack(slots: {"desk/card-send/1" => {from: "desk/channel/1", tap: tap}})
        expect(finding(coloured, "coloured-tap").what).to eq("USB lane 1 takes channel 1 #{tap}, so track 1 holds #{held}.")
        expect(finding(coloured, "coloured-tap").mend.edit.apply(coloured).patch.slots["desk/card-send/1"].tap).to eq("raw")
      end
    end

    %w[raw in pre-eq].each do |tap|
      it "leaves a track that is recorded #{tap} alone" do
        expect(rules(rack(slots: {"desk/card-send/1" => {from: "desk/channel/1", tap: tap}}))).not_to include("coloured-tap")
      end
    end
  end

  describe "an accepted finding" do
    let(:found) { finding(planted, "silent-lane") }
    let(:accepted) do
      edit("accept", key: found.key, acceptance: {who: "engineer", at: "2026-11-24T20:00:00Z", digest: found.digest}).apply(planted)
    end

    it "stays listed, last and muted" do
      expect(findings(accepted).map { |one| [one.rule, !one.accepted.nil?] }).to eq([["click-reach", false], ["silent-lane", true]])
    end

    it "comes back when what it is about changes" do
      changed = edit("plug", row: "list/row/9", socket: "box-a/mic/15").apply(accepted)
      expect(finding(changed, "silent-lane").accepted).to be_nil
    end
  end
end

# The rules of rig and patch, each with the show that raises it and its neighbour.
RSpec.describe "The checks of the patch" do
  def mended(show, rule) = finding(show, rule).mend.edit.apply(show)

  it "unpatched: a row that reaches no channel, and its own channel where that is free" do
    rack_show = rack(slots: {"desk/channel/2" => nil})
    expect(finding(rack_show, "unpatched")).to have_attributes(severity: "warn", what: "Lute is plugged in at local socket 2, and no channel takes it.")
    expect(mended(rack_show, "unpatched").patch.slots["desk/channel/2"].from).to eq("desk/mic/2")
    expect(finding(show(edit("plug", row: "list/row/9", socket: nil)), "unpatched").what).to eq("Accordion is not plugged in anywhere.")
    many = show(*(1..8).map { |n| edit("plug", row: "list/row/#{n}", socket: nil) })
    expect(finding(many, "unpatched")).to have_attributes(title: "8 rows reach no channel", what: /\AHurdy-gurdy, .* and 2 more are not plugged in anywhere\.\z/)
    bare = show(edit("clear", slot: "desk/channel/1"))
    expect(finding(bare, "unpatched").mend.label).to eq("Mend: put them on channel 1")
    expect(rules(mended(bare, "unpatched"))).to eq([])
    expect(rules(rack)).not_to include("unpatched")
  end

  it "pair: sides out of order, on different feeds, or where this desk cannot link them" do
    crossed = show(edit("swap", one: "list/row/7", other: "list/row/8"))
    expect(finding(crossed, "pair").what).to eq("Overhead L and Overhead R are a stereo pair, but they are on channels 8 and 7, not side by side in that order.")
    expect(rules(mended(crossed, "pair"))).to eq([])
    apart = show(edit("open_block", slot: "desk/channel/1"), edit("connect", slot: "desk/channel/8", from: "desk/card-return/8"))
    expect(finding(apart, "pair").what).to include("one side listens to the stage, the other to the recorder")
    even = hall("rack-20", rows: (1..8).map { |n| {id: "list/row/#{n}", name: "S#{n}", pair: {2 => "list/row/3", 3 => "list/row/2"}[n]} })
    expect(finding(even, "pair").what).to include("this desk links an odd channel with the next even one")
    expect(rules(show)).not_to include("pair")
  end

  it "power: on where the list forbids it, off where it is wanted" do
    harm = show(edit("power", sockets: ["box-a/mic/11"]))
    expect(finding(harm, "power")).to have_attributes(severity: "stop", what: "Box A socket 11 has phantom power, and Foley table (ribbon) must never get it.")
    expect(rules(mended(harm, "power"))).to eq([])
    off = show(edit("power", sockets: ["box-a/mic/7"], on: false))
    expect(finding(off, "power").title).to eq("1 microphone without phantom power")
    expect(rules(mended(off, "power"))).to eq([])
  end

  it "orphan-bus: a bus that is fed and goes nowhere, not one that nobody feeds" do
    fed = show(edit("send", channel: "desk/channel/1", mix: "desk/bus/12"))
    expect(finding(fed, "orphan-bus").what).to eq("It is fed by channel 1, and assigned to no mix, output or lane.")
    expect(rules(edit("send", channel: "desk/bus/12", mix: "desk/main/1").apply(fed))).not_to include("orphan-bus")
    expect(rules(show)).not_to include("orphan-bus")
  end

  it "landing: mains that a re-patch moved, against a note or the newest scene" do
    noted = show(edit("land", mix: "desk/main/1", sockets: ["desk/out-socket/1"]))
    expect(rules(noted)).to eq([])
    moved = edit("swap", one: "desk/output/1", other: "desk/output/4").apply(noted)
    expect(finding(moved, "landing").what).to eq("Main L (main 1) leaves by local out 4 now; it was to leave by local out 1.")
    expect(rules(mended(moved, "landing"))).not_to include("landing")
    scened = show(edit("scene", name: "Afternoon"), edit("swap", one: "desk/output/1", other: "desk/output/2"))
    expect(finding(scened, "landing").title).to eq("Main L and Main R leave elsewhere")
  end

  it "second-set: one block still on local sockets is found on the day before" do
    before = hall("desk-48", slots: (1..8).to_h { |n| ["desk/recorder-set/#{n}", {from: (n > 6) ? "desk/mic/#{n}" : "desk/card-return/#{n}", tap: "raw"}] })
    expect(finding(before, "second-set").what).to eq("Channels 7–8 would take local socket 7, local socket 8 there, not their own tracks.")
    expect(rules(mended(before, "second-set"))).not_to include("second-set")
    expect(rules(hall("desk-48"))).not_to include("second-set")
  end

  it "cable: too long for its standard, or AES3 on microphone cable" do
    expect(finding(show(edit("cable", a: "box-a/aes50", b: "desk/aes50-a", length_m: 120)), "cable").what).to eq("The cable from Box A AES50 to Quay desk AES50 A is 120 m long; AES50 is good for 100 m.")
    expect(rules(show(edit("cable", a: "box-a/aes50", b: "desk/aes50-a", length_m: 100)))).to eq([])
    kind = show(edit("cable", a: "box-a/aes50", b: "desk/aes50-a", cable_kind: "telephone wire"))
    expect(finding(kind, "cable").severity).to eq("note")
    expect(rules(mended(kind, "cable"))).to eq([])
  end
end

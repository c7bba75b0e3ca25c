# frozen_string_literal: true

require "core_helper"

# Devices, cables, chains, clock and budgets.
RSpec.describe "The rig" do
  # Box B behind Box A, as a chain.
  let(:chained) do
    show(edit("device", id: "box-b", profile: "stage-box-16x8", name: "Box B", clock: "aes50"), edit("cable", a: "box-b/aes50", b: "box-a/chain", length_m: 20))
  end

  def refused(edit, from = show) = edit.apply(from).tap { |result| expect(result).to be_a(Loomshuttle::Refusal) }.why

  describe "a chain of boxes" do
    it "puts the second box's sockets on lanes 17-32 by its place" do
      expect(chained.graph.fixed_onward("box-b/mic/1")).to eq(%w[box-b/link-out/1 box-a/chain-in/1 box-a/link-out/17 desk/aes50-a-in/17])
      expect(chained.graph.fixed_onward("box-b/mic/16").last).to eq("desk/aes50-a-in/32")
    end

    it "takes outputs by a setting, which can be wrong: both boxes play lanes 1-8 until it is set" do
      expect(chained.graph.line_back("box-b/out-socket/1")).to include("desk/aes50-a-out/1")
      expect(finding(chained, "chain")).to have_attributes(severity: "warn", title: "Box A and Box B play the same outputs")
      mended = finding(chained, "chain").mend.edit.apply(chained)
      expect(mended.graph.line_back("box-b/out-socket/1")).to include("desk/aes50-a-out/9")
      expect(rules(mended)).to eq([])
    end

    # What no edit lays can stand in a file that somebody else wrote.
    it "finds a port with two cables and keeps the first" do
      second = Loomshuttle::Rig::Cable.new(a: "box-b/chain", b: "desk/aes50-a", kind: "Cat 5e", length_m: 5)
      doubled = chained.with(rig: chained.rig.with(cables: [*chained.rig.cables, second].freeze))
      found = finding(doubled, "chain")
      expect(found).to have_attributes(severity: "stop",
        title: "Quay desk AES50 A has 2 cables",
        what: "Box A and Box B are both plugged in at Quay desk AES50 A.")
      expect(titles(found.mend.edit.apply(doubled))).not_to include("Quay desk AES50 A has 2 cables")
      expect(titles(chained)).not_to include("Quay desk AES50 A has 2 cables")
    end

    it "finds boxes that are chained in a circle" do
      round = [edit("device", id: "box-c", profile: "stage-box-16x8", name: "Box C", clock: "aes50"),
        edit("device", id: "box-d", profile: "stage-box-16x8", name: "Box D", clock: "aes50"),
        edit("cable", a: "box-c/aes50", b: "box-d/chain"),
        edit("cable", a: "box-d/aes50", b: "box-c/chain")].reduce(show) { |now, one| one.apply(now) }
      expect(titles(round)).to include("Box C and Box D are chained in a circle", "Nobody leads the clock of Box C and Box D")
      opened = edit("remove_cable", a: "box-d/aes50", b: "box-c/chain").apply(round)
      expect(titles(opened).grep(/circle/)).to eq([])
    end

    it "finds two looms that are plugged into the same sockets" do
      play = lambda do |id|
        [edit("device", id: id, profile: "line-interface-8", name: id.capitalize, clock: "leader"),
          edit("cable", a: "#{id}/lines", b: "desk/lines", offset_a_to_b: 24, length_m: 4)]
      end
      both = [*play["left"], *play["right"]].reduce(show) { |now, one| one.apply(now) }
      expect(titles(both)).to include("Left and Right claim the same places")
      apart = edit("cable", a: "right/lines", b: "desk/lines", offset_a_to_b: 16, length_m: 4).apply(both)
      expect(titles(apart).grep(/same places/)).to eq([])
    end

    it "names all that hang on one fault of the clock as one finding" do
      lost = edit("device", id: "box-a", clock: "chain").apply(chained)
      expect(finding(lost, "clock-leader").what).to include("Box A's clock goes round in a circle").or include("Box B hangs on Box A")
      expect(rules(lost).count("clock-leader")).to eq(1)
    end

    it "notes lanes that no box plays" do
      far = edit("device", id: "box-b", settings: {output_offset: 24}).apply(chained)
      expect(finding(far, "chain")).to have_attributes(severity: "note", title: "Lanes 9–24 of Quay desk AES50 A reach no output")
      expect(rules(edit("device", id: "box-b", settings: {output_offset: 8}).apply(chained))).to eq([])
    end

    it "loses what does not fit on the link" do
      long = [["box-c", "box-b"], ["box-d", "box-c"]].reduce(chained) do |now, (id, before)|
        [edit("device", id: id, profile: "stage-box-16x8", clock: "aes50"), edit("cable", a: "#{id}/aes50", b: "#{before}/chain")].reduce(now) do |one, step|
          step.apply(one)
        end
      end
      expect(titles(long)).to include("box-d sockets 1–16 have no lane to the desk")
      expect(titles(long).grep(/have no lane/).size).to eq(1)
    end

    it "carries half at 96 kHz" do
      fast = edit("show_rate", rate_hz: 96_000).apply(chained)
      expect(titles(fast)).to include("Box B sockets 9–16 have no lane to the desk")
    end
  end

  describe "cables" do
    it "are refused with the reason" do
      expect(refused(edit("cable", a: "box-a/aes50", b: "rec/interface"))).to eq("Box A AES50 speaks AES50 and Logbook interface speaks USB: no cable joins them.")
      expect(refused(edit("cable", a: "box-a/chain", b: "desk/aes50-a"))).to eq("Quay desk AES50 A has a cable already, to Box A AES50.")
      expect(refused(edit("cable", a: "desk/aes50-a", b: "desk/aes50-b"))).to include("back into the same device joins nothing")
      expect(refused(edit("cable", a: "desk/madi", b: "box-a/aes50"))).to eq("There is no port desk/madi in this rig.")
      expect(refused(edit("cable", a: "box-a/aes50", b: "desk/aes50-a", length_m: -1))).to include("0 to 5000 m")
    end

    it "say beforehand what they would do" do
      loose = show(edit("device", id: "box-b", profile: "stage-box-32x16", name: "Box B", clock: "aes50"))
      expect(Loomshuttle::Screens::CableForecast.of(loose, "box-b/aes50", "box-a/chain"))
        .to eq("AES50, 48 lanes each way at 48 kHz. Box B's sockets arrive on AES50 A lane 17–48. Box A's sockets arrive on AES50 A lane 1–16. Box B can follow the clock through it.")
      expect(Loomshuttle::Screens::CableForecast.of(loose, "box-b/aes50", "desk/card")).to be_a(Loomshuttle::Refusal)
    end

    it "of single lines go where they are plugged in" do
      lined = show(edit("device", id: "play", profile: "line-interface-8", name: "Jukebox"), edit("cable", a: "play/lines", b: "desk/lines", offset_a_to_b: 24, length_m: 4))
      expect(lined.graph.fixed_onward("play/out-socket/1")).to eq(["desk/mic/25"])
      expect(rules(lined)).not_to include("clock-leader")
      long = edit("cable", a: "play/lines", b: "desk/lines", offset_a_to_b: 24, length_m: 30).apply(lined)
      expect(finding(long, "cable")).to have_attributes(title: "30 m is too long for unbalanced line", why: "It picks up hum and loses treble.")
    end
  end

  describe "the clock" do
    it "is a tree with one leader" do
      clock = Loomshuttle::Rig::Clock.of(chained.rig)
      expect(clock.ways).to include("box-b" => %w[box-b box-a desk], "desk" => ["desk"], "rec" => %w[rec desk])
      expect([clock.leaders.map(&:id), clock.faults]).to eq([["desk"], []])
    end

    {"two leaders" => [{id: "rec", clock: "leader"}, "Quay desk and Logbook both lead the clock."],
     "no leader" => [{id: "desk", clock: "card"}, "None of 3 digital devices leads the clock."],
     "a follower through an empty port" => [{id: "box-a", clock: "chain"}, "Box A has no clock: nothing is plugged in at Box A chain."],
     "a device that neither leads nor follows" => [{id: "rec", clock: nil}, "Logbook has no clock: Logbook neither leads nor follows."]}.each do |fault, (fields, words)|
      it "finds #{fault}, and its mend clears it" do
        wrong = edit("device", **fields).apply(show)
        found = Loomshuttle::Checks::All.findings(wrong).select { |one| one.rule == "clock-leader" }
        expect(found.map(&:what)).to include(words)
        expect(rules(found.first.mend.edit.apply(wrong))).not_to include("clock-leader")
      end
    end

    it "finds a circle" do
      round = show(edit("device", id: "desk", clock: "aes50-a"))
      expect(Loomshuttle::Rig::Clock.of(round.rig).faults.map(&:kind)).to include(:circle)
    end
  end

  describe "port modes" do
    let(:narrow) { show(edit("device", id: "rec", modes: {interface: "2x2"})) }

    it "find a port left in two-channel mode and widen it" do
      expect(finding(narrow, "port-mode")).to have_attributes(severity: "stop", title: "Logbook interface is in mode 2x2")
      expect(finding(narrow, "port-mode").what).to start_with("Logbook interface carries 2 lanes in mode 2x2; lanes 3–12, 25–31")
      expect(rules(finding(narrow, "port-mode").mend.edit.apply(narrow))).to eq([])
    end

    it "leave lanes that nobody uses alone" do
      bare = narrow.with(patch: narrow.patch.with_slots((1..48).to_h { |n| ["rec/lane-out/#{n}", nil] }.merge((1..32).to_h { |n| ["desk/card-send/#{n}", nil] })))
      expect(rules(bare)).not_to include("port-mode")
    end

    it "refuse a mode that the port has not" do
      expect(refused(edit("device", id: "rec", modes: {interface: "64x64"}))).to eq("Logbook interface has no mode \"64x64\"; it has: 48x48, 2x2.")
    end
  end

  describe "lane budgets" do
    it "say what is used and there, and what 96 kHz would cost before it is chosen" do
      cable = show.rig.cables.last
      expect(Loomshuttle::Signal::LinkBudget.of(show, cable)).to include(lanes: 32, a_to_b: 16, b_to_a: 15, highest: 31, lost: [])
      forecast = Loomshuttle::Screens::RateForecast.of(show, 96_000)
      expect(forecast[:links].find { |link| link[:cable] == cable.id }).to include(lanes_now: 32, lanes_then: 16)
      expect(forecast[:sources_lost]).to include("role click", "role organ", "role tide")
      expect(finding(edit("show_rate", rate_hz: 96_000).apply(show), "link-lanes").what).to include("At 96 kHz this USB link carries 16 lanes")
    end
  end

  describe "own profiles" do
    let(:data) { Loomshuttle::Shelf.profiles["stage-box-16x8"].to_data }

    thirty = lambda do |d|
      d["families"] << {"name" => "send", "label" => "send", "kind" => "lane", "count" => 30}
      d["fields"] = [{"family" => "send", "block" => 8, "takes" => ["mic"]}]
    end
    {"a field of 30 slots in blocks of 8" => [thirty,
      "profile/fields/send/block", 8, /divide its 30 slots: 1, 2, 3, 5, 6/],
     "a tap that no channel has" => [->(d) { d["families"][0]["taps"] = ["post-reverb"] },
       "profile/families/mic/taps",
       "post-reverb",
       /raw, in, pre-eq/],
     "lanes beyond the standard" => [->(d) { d["ports"][0]["modes"] = {"all" => {"48" => 64, "96" => 24}} },
       "profile/ports/aes50/modes/all/48",
       64,
       /0 to 48 lanes: AES50 carries no more at 48 kHz/],
     "a wire to nowhere" => [->(d) { d["wires"][0]["to"] = "nowhere" }, "profile/wires", "nowhere", /a family of this profile/],
     "a wire beyond the last number" => [->(d) { d["wires"][1]["count"] = 40 }, "profile/wires/chain-in", 56, /numbers up to 48/],
     "a kind that no gear has" => [->(d) { d["kind"] = "robot" }, "profile/kind", "robot", /desk, box, interface/],
     "a name with blanks" => [->(d) { d["families"][0]["name"] = "my mic" }, "profile/families/my mic/name", "my mic", /small letters, digits and dashes/],
     "half a socket" => [->(d) { d["families"][0]["count"] = 1.5 }, "profile/families/mic/count", 1.5, /1 to 512/],
     "more sockets there than it counts" => [->(d) { d["families"][0]["present"] = 17 }, "profile/families/mic/present", 17, /0 to 16/],
     "taps against the way of the signal" => [->(d) { d["families"][0]["taps"] = %w[post-fader raw] }, "profile/families/mic/taps", "post-fader, raw", /in the order raw, in/],
     "a field of no family" => [->(d) { d["fields"] = [{"family" => "moon", "takes" => ["mic"]}] }, "profile/fields/moon", "moon", /a family of this profile: mic/],
     "blocks of nothing" => [->(d) { d["fields"] = [{"family" => "out-socket", "block" => 0, "takes" => ["mic"]}] }, "profile/fields/out-socket/block", 0, /a whole number from 1/],
     "a delay of an hour" => [->(d) {
       d["fields"] = [{"family" => "out-socket", "takes" => ["mic"], "delay_max_ms" => 3_600_000}]
     }, "profile/fields/out-socket/delay_max_ms", 3_600_000, /0 to 2000 ms/],
     "a field that takes what is not there" => [->(d) {
       d["fields"] = [{"family" => "out-socket", "takes" => ["moon"]}]
     }, "profile/fields/out-socket/takes", "moon", /or \* for whatever is plugged in/],
     "a port of no standard" => [->(d) { d["ports"][0]["standard"] = "string and cans" }, "profile/ports/aes50/standard", "string and cans", /AES50/],
     "a port of lanes that it has not" => [->(d) { d["ports"][0]["lanes_out"] = "moon" }, "profile/ports/aes50", "moon", /a family of this profile/],
     "a slip of the pen in a port" => [->(d) { d["ports"][0]["lane_out"] = "mic" }, "profile/ports/aes50/lane_out", "mic", /lanes_in, lanes_out/],
     "a slip of the pen in the profile" => [->(d) { d["audiance"] = "crew" }, "profile/audiance", "crew", /kind, audience, assigns/],
     "a rate family of its own" => [->(d) { d["ports"][0]["modes"] = {"all" => {"50" => 8}} }, "profile/ports/aes50/modes/all", 50, /48 or 96/],
     "a second set that is not there" => [->(d) { d.merge!("kind" => "desk", "holds" => "desk", "second" => "moon") }, "profile/second", "moon", /as many slots as there are channels/],
     "a list where an object is wanted" => [->(d) { d["families"] = {"mic" => 16} }, "profile", "own", /lists of families, fields, ports and wires/],
     "no label" => [->(d) { d.delete("label") }, "profile.label", nil, /needs it/]}.each do |fault, (break_it, field, value, allowed)|
      it "refuse #{fault}" do
        broken = JSON.parse(JSON.generate(data)).tap { |copy| break_it.call(copy) }
        result = edit("profile", name: "own", data: broken).apply(show)
        expect(result).to have_attributes(field: field, value: value, allowed: allowed)
      end
    end

    it "are copied, changed, used and deleted; shipped ones stay" do
      own = edit("profile", name: "own", data: data.merge("label" => "Own box")).apply(show)
      used = edit("device", id: "box-z", profile: "own").apply(own)
      expect(used.rig.devices["box-z"].profile).to have_attributes(label: "Own box", own: true)
      expect(refused(edit("profile", name: "own", data: nil), used)).to eq("Box-z is made of it; take that out first.")
      expect(edit("profile", name: "own", data: nil).apply(own)).to eq(show)
      expect(refused(edit("profile", name: "desk-32", data: data))).to include("is shipped and stays as it is")
      expect(Loomshuttle::Demo.show(JSON.parse(Loomshuttle::Exchange::ShowFile.write(used)))).to eq(used)
    end

    it "cannot lose a place that is in use" do
      desk = Loomshuttle::Shelf.profiles["desk-32"].to_data
      mine = edit("profile", name: "mine", data: desk).apply(show)
      used = mine.with(rig: mine.rig.with(devices: mine.rig.devices.merge("desk" => mine.rig.devices["desk"].with(profile: mine.profiles["mine"])).freeze))
      smaller = JSON.parse(JSON.generate(desk)).tap { |copy| copy["families"].find { |family| family["name"] == "bus" }["count"] = 4 }
      expect(refused(edit("profile", name: "mine", data: smaller), used)).to end_with("is in use and would be gone; clear it first.")
    end
  end

  it "takes a device out with everything that hung on it" do
    without = edit("remove_device", id: "box-a").apply(show)
    expect([without.rig.cables.size, without.patch.plugs, without.patch.slots.key?("booth/in/1")]).to eq([1, {}, false])
    expect(refused(edit("remove_device", id: "nobody"))).to eq("This rig has no device nobody.")
  end
end

# frozen_string_literal: true

require "core_helper"

# What did not agree with a second model of the desk: live microphones that a swing silenced,
# ways back that ended elsewhere, desks that could not swing alone.
RSpec.describe Loomshuttle::Soundcheck::Swing do
  def recorder(show, **more) = described_class.to_recorder(show, **more)
  def feeds(show) = Loomshuttle::Signal::Feed.of_channels(show)
  def on(show, feed) = feeds(show).select { |_, is| is == feed }.keys

  # A talker on the stage whom nobody records.
  def with_talkback(socket) = show(edit("rows", rows: {"list/row/talk" => {name: "Talkback"}}), edit("plug", row: "list/row/talk", socket: socket))

  it "leaves a microphone without a track on the stage, out of its block, and names it" do
    before = with_talkback("box-a/mic/13")
    plan = recorder(before)
    after = plan.edit.apply(before)
    expect([plan.stays, plan.silences, plan.proved]).to eq([["desk/channel/13"], [], true])
    expect(on(after, :stage)).to eq(["desk/channel/13"])
    expect(rules(after)).not_to include("mixed-feed", "unpatched")
    expect(described_class.to_stage(after).edit.apply(after)).to eq(before)
    expect(recorder(before, keep: ["desk/channel/13"]).stays).to eq(["desk/channel/13"])
  end

  it "raises no stop for one that was never to turn, in a block of its own" do
    before = with_talkback("desk/mic/1")
    after = recorder(before).edit.apply(before)
    expect([on(after, :stage), rules(after) & ["mixed-feed"]]).to eq([["desk/channel/17"], []])
  end

  it "names whom it would silence where no model opens the block, and proves nothing then" do
    closed = Loomshuttle::Shelf.profiles["desk-32"].to_data
    closed["fields"] = closed["fields"].map { |field| (field["family"] == "channel") ? field.merge("opens" => false) : field }
    profiled = with_talkback("box-a/mic/13").then { |one| edit("profile", name: "closed-32", data: closed.merge("name" => "closed-32")).apply(one) }
    data = JSON.parse(Loomshuttle::Exchange::ShowFile.write(profiled))
    data["devices"][0]["profile"] = "closed-32"
    before = Loomshuttle::Demo.show(data)
    plan = recorder(before)
    expect([plan.silences, plan.proved]).to eq([["desk/channel/13"], false])
    kept = recorder(before, keep: ["desk/channel/13"])
    expect([kept.silences, kept.stays, kept.proved]).to eq([[], (9..13).map { |n| "desk/channel/#{n}" }, true])
  end

  it "finds a live microphone that a track which nobody lists cut off" do
    laid = show(edit("open_block", slot: "desk/channel/9"), edit("connect", slot: "desk/channel/12", from: "desk/card-return/12"))
    before = laid.with(tracks: laid.tracks.except("rec/track/12").freeze)
    expect(Loomshuttle::Signal::Feed.of(before, "desk/channel/12")).to eq(:recorder)
    expect(titles(before)).to include("Narrator reaches no channel")
    expect(Loomshuttle::Screens::Why.of(before, "desk/channel/12").sentence).to eq("Channel 12 plays track 12 from disk, whenever a take runs.")
  end

  it "hears nothing on an empty second slot, and on a return on which nothing comes back" do
    switched = edit("turn", places: ["desk/channel/2"]).apply(hall("rack-20"))
    expect(Loomshuttle::Signal::Feed.of(switched, "desk/channel/2")).to eq(:nothing)
    silent = show(edit("connect", slot: "desk/channel/17", from: "desk/card-return/17"))
    expect(Loomshuttle::Signal::Feed.of(silent, "desk/channel/17")).to eq(:nothing)
  end

  it "says what does not come back, and offers no mend that leaves it there" do
    by_hand = show(edit("open_block", slot: "desk/channel/1"), *[1, 2, 5].map { |n| edit("connect", slot: "desk/channel/#{n}", from: "desk/card-return/#{n}") },
      edit("plug", row: "list/row/5", socket: nil))
    plan = described_class.to_stage(by_hand)
    expect([plan.left, plan.proved, plan.turns]).to eq([["desk/channel/5"], false, ["desk/channel/1", "desk/channel/2"]])
    expect(finding(by_hand, "mixed-feed").mend).to be_nil
    expect(described_class.to_stage(edit("plug", row: "list/row/5", socket: "box-a/mic/5").apply(by_hand))).to have_attributes(left: [], proved: true)
  end

  it "brings a block back of which the first channel alone has no socket" do
    by_hand = show(edit("connect", slot: "desk/channel/1", from: "desk/card-return/1"), edit("plug", row: "list/row/1", socket: nil))
    expect(on(described_class.to_stage(by_hand).edit.apply(by_hand), :recorder)).to eq([])
  end

  it "knows the way home after a second swing, opened blocks included" do
    once = recorder(show, keep: ["desk/channel/12"]).edit.apply(show)
    twice = recorder(once).edit.apply(once)
    expect(on(twice, :stage)).to eq([])
    expect(described_class.to_stage(twice)).to have_attributes(proved: true)
    expect(described_class.to_stage(twice).edit.apply(twice)).to eq(show)
  end

  it "says why where what it would come back to is no more" do
    swung = recorder(show).edit.apply(show)
    lost = swung.with(swung: swung.swung.with(home: swung.swung.home.merge("desk/channel/1" => Loomshuttle::Patch::Pick.new(from: "songs/role/gone")).freeze))
    expect(described_class.to_stage(lost)).to have_attributes(class: Loomshuttle::Refusal, why: "There is no songs/role/gone to take a signal from.")
  end

  it "comes back though somebody laid a single choice into an opened block since" do
    swung = recorder(show, keep: ["desk/channel/12"]).edit.apply(show)
    since = edit("connect", slot: "desk/channel/12", from: "desk/mic/4").apply(swung)
    back = described_class.to_stage(since).edit.apply(since)
    expect([on(back, :recorder), back.patch.opened.to_a, back.patch.slots["desk/channel/12"].from]).to eq([[], ["desk/channel/9"], "desk/mic/4"])
  end

  describe "with two desks and two recorders" do
    # A monitor desk on the same sockets, with a recorder of its own.
    let(:both) do
      data = JSON.parse(Loomshuttle::Exchange::ShowFile.write(show))
      data["devices"] += [{"id" => "mon", "name" => "Side desk", "profile" => "desk-32", "rate_hz" => 48_000, "clock" => "aes50-b"},
        {"id" => "rec2", "name" => "Second log", "profile" => "recording-computer", "rate_hz" => 48_000, "clock" => "interface"}]
      data["cables"] += [{"a" => "mon/card", "b" => "rec2/interface", "kind" => "USB", "length_m" => 3}]
      rows = (1..12).to_a
      data["tracks"] = rows.map { |n| {"id" => "second-#{n}", "place" => "rec2/track/#{n}", "name" => "Again #{n}", "row" => "list/row/#{n}", "armed" => true} } + data["tracks"]
      slots = data["patch"]["slots"]
      rows.each do |n|
        slots["rec2/track/#{n}"] = {"from" => "rec2/lane-in/#{n}"}
        slots["rec2/lane-out/#{n}"] = {"from" => "rec2/track/#{n}"}
      end
      (1..16).each { |n| slots["mon/channel/#{n}"] = {"from" => "mon/mic/#{n}", "tap" => "raw"} }
      data["rows"] += rows.map { |n| {"id" => "list/row/m#{n}", "number" => 100 + n, "name" => "Side #{n}"} }
      rows.each { |n| data["patch"]["plugs"]["list/row/m#{n}"] = "mon/mic/#{n}" }
      data["tracks"].first(12).each_with_index { |track, at| track["row"] = "list/row/m#{at + 1}" }
      Loomshuttle::Demo.show(data)
    end

    it "turns each alone or both together, and back" do
      alone = %w[desk mon].to_h { |desk| [desk, recorder(both, desk: desk)] }
      expect(alone.transform_values { |plan|
        [plan.proved, plan.turns.map { |id|
          id.split("/").first
        }.tally]
      }).to eq("desk" => [true, {"desk" => 12}], "mon" => [true, {"mon" => 12}])
      together = recorder(both)
      expect([together.proved, together.turns.size]).to eq([true, 24])
      first = alone["desk"].edit.apply(both)
      expect(rules(first)).not_to include("mixed-feed")
      second = recorder(first, desk: "mon").edit.apply(first)
      back = described_class.to_stage(second, desk: "desk").edit.apply(second)
      expect([Loomshuttle::Signal::Feed.of_desk(back, "desk"), Loomshuttle::Signal::Feed.of_desk(back, "mon")]).to eq([:stage, :recorder])
      expect(described_class.to_stage(back).edit.apply(back)).to eq(both)
    end

    it "names the desk in what is wrong on one of them" do
      half = edit("open_block", slot: "mon/channel/1").apply(both).then { |one| edit("connect", slot: "mon/channel/1", from: "mon/card-return/1").apply(one) }
      expect(finding(half, "mixed-feed")).to have_attributes(title: "Half of the channels of Side desk are on the recorder",
        what: "Channel 1 of Side desk listens to the recorder, channels 2–12 to the stage.")
    end

    it "refuses a desk that is none" do
      expect(recorder(both, desk: "rec").why).to eq("There is no desk rec.")
    end
  end

  # Found by bench/models.rb: one block out of line refused the whole way back.
  it "brings back what it can where a block was turned by hand and cannot come back in line, opens it where the model can, else says who is left" do
    stage = show(edit("plug", row: "list/row/2", socket: "box-a/mic/16"), edit("connect", slot: "desk/channel/1", from: "desk/card-return/1"))
    plan = described_class.to_stage(stage)
    back = plan.edit.apply(stage)
    expect([plan.left, plan.proved, back.patch.opened.to_a]).to eq([[], true, ["desk/channel/1"]])
    expect([1, 2, 3].map { |n| Loomshuttle::Signal::Sources.row_behind(back, "desk/channel/#{n}") }).to eq(%w[list/row/1 list/row/2 list/row/3])
    closed = Loomshuttle::Shelf.profiles["desk-32"].to_data.then { |data| data.merge("name" => "closed", "own" => true, "fields" => data["fields"].map { |field| field.merge("opens" => false) }) }
    data = Loomshuttle::Demo.mended.merge(profiles: [closed])
    data[:devices].find { |device| device[:id] == "desk" }[:profile] = "closed"
    rigid = [edit("plug", row: "list/row/2", socket: "box-a/mic/16"), edit("connect", slot: "desk/channel/1", from: "desk/card-return/1")].reduce(Loomshuttle::Demo.show(data)) { |now, one| one.apply(now) }
    expect(described_class.to_stage(rigid).why).to eq("Channels 1–8 stay on the recorder: nothing of them is plugged in, or the block does not come back in line and this model opens none. Lay them by hand.")
    both = edit("connect", slot: "desk/channel/9", from: "desk/card-return/9").apply(rigid)
    plan = described_class.to_stage(both)
    expect([plan.left.size, plan.proved, plan.words(both).grep(/in line/)]).to match([8, false, [/their blocks do not come back in line, and this model opens none/]])
  end
end

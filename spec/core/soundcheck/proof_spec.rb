# frozen_string_literal: true

require "core_helper"

# What a return ping heard, against a plan; what is heard here is made up, lane by lane.
RSpec.describe Loomshuttle::Soundcheck::Proof do
  taps = (1..8).to_h { |n| ["desk/card-send/#{n}", {from: "desk/channel/#{n}", tap: "in"}] }

  let(:staged) { hall("desk-48", slots: taps) }
  let(:show) { Loomshuttle::Soundcheck::Swing.to_recorder(staged).edit.apply(staged) }

  # @param heard [Hash{Integer => Array}] lane in => pings as [lane, gain, latency, coloured]; the others straight
  def proof(heard = {}, of: show, **more)
    all = (1..8).to_h { |n| [n, {"pings" => [[n, 1.0, 137, false]], "floor_db" => -50.0}] }
    changed = heard.transform_values { |pings| {"pings" => pings, "floor_db" => -50.0} }
    described_class.new(way: way(of), at: "2026-11-26T20:41:07Z", heard: all.merge(changed).transform_values { |one| described_class.heard(one) }, **more)
  end

  def way(show) = Loomshuttle::Soundcheck::WayBack.of(show).digest
  def states(proof, of: show) = proof.lanes(of).map(&:state)
  def words(proof, of: show) = Loomshuttle::Soundcheck::ProofWords.of(of, proof)
  def steps(proof, of: show) = Loomshuttle::Soundcheck::ProofWords.steps(of, proof)
  def as_heard(proof, of: show) = Loomshuttle::Soundcheck::AsHeard.of(of, proof)

  it "is right where each lane is heard on its own channel, and knows the round trip" do
    expect(states(proof).uniq).to eq(["right"])
    expect(words(proof)).to eq(["All 8 come back as planned."])
    expect([proof.round_trip_frames, proof.feed(show)]).to eq([137, :recorder])
    expect(as_heard(proof)).to be_a(Loomshuttle::Refusal)
  end

  it "comes back from its data the same" do
    one = proof({3 => [[3, -0.5, 233, true]]}, who: "Ilse", quick: true, rate_hz: 96_000)
    expect(described_class.from_data(JSON.parse(JSON.generate(one.to_data)))).to eq(one)
  end

  it "names two lanes that are crossed, what to do at the desk, and plans it as it was heard" do
    crossed = proof({6 => [[7, 1.0, 137, false]], 7 => [[6, 1.0, 137, false]]})
    expect(states(crossed)).to eq(%w[right right right right right crossed crossed right])
    expect(words(crossed)).to eq(["6 of 8 come back as planned.", "6 and 7 are crossed."])
    expect(steps(crossed)).to eq(["Set channel 6 to USB return 6.", "Set channel 7 to USB return 7."])
    after = as_heard(crossed).edit.apply(show)
    expect(states(proof({6 => [[7, 1.0, 137, false]], 7 => [[6, 1.0, 137, false]]}, of: after), of: after).uniq).to eq(["right"])
    expect(Loomshuttle::Signal::Sources.channels(after)).to eq(Loomshuttle::Signal::Sources.channels(show))
    expect(after.patch.slots.values_at("rec/lane-out/6", "rec/lane-out/7").map(&:from)).to eq(%w[rec/track/7 rec/track/6])
  end

  it "plans three that go round" do
    round = {2 => [[3, 1.0, 137, false]], 3 => [[4, 1.0, 137, false]], 4 => [[2, 1.0, 137, false]]}
    after = as_heard(proof(round)).edit.apply(show)
    expect(states(proof(round, of: after), of: after).uniq).to eq(["right"])
  end

  it "tells a lane on two channels, a dead one, and one that nobody could hear for noise" do
    odd = proof({1 => [[1, 1.0, 137, false]], 2 => [[1, 1.0, 137, false], [2, 1.0, 137, false]], 5 => []})
    expect(states(odd)).to eq(%w[doubled right right right dead right right right])
    expect(words(odd)).to include("5 does not arrive.", a_string_starting_with("1 comes back on "))
    loud = described_class.new(way: way(show), at: "", heard: proof.heard.merge(5 => described_class.heard("floor_db" => -6.0)))
    expect(states(loud)[4]).to eq("unknown")
    expect(words(loud)).to include(a_string_starting_with("5 could not be heard"))
  end

  it "tells polarity, level, lateness and colour" do
    odd = proof({3 => [[3, 1.0, 233, false]], 4 => [[4, 0.5, 137, false]], 8 => [[8, -1.0, 137, false]], 1 => [[1, 1.0, 137, true]]})
    expect(odd.lanes(show).to_h { |one| [one.lane, one.faults] }.slice(1, 3, 4, 8)).to eq(1 => ["coloured"], 3 => ["late"], 4 => ["level"], 8 => ["turned"])
    expect(words(odd)).to include("4 of 8 come back as planned.", "3 comes 96 frames later than the others.", "4 is 6.0 dB too low.", "8 is turned over.")
  end

  it "leaves level and colour to the engineer behind the channel's processing" do
    behind = hall("desk-48", slots: taps.transform_values { |pick| pick.merge(tap: "post-fader") })
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(behind).edit.apply(behind)
    expect(proof({4 => [[4, 0.5, 137, true]]}, of: swung).lanes(swung)[3].faults).to be_empty
  end

  it "finds a desk that was left on, and one that is back on the stage" do
    left = proof({}, of: staged)
    expect([states(left, of: staged).uniq, left.feed(staged)]).to eq([["left on"], :recorder])
    silent = proof((1..8).to_h { |n| [n, []] }, of: staged)
    expect([states(silent, of: staged).uniq, silent.feed(staged)]).to eq([["stage"], :stage])
    expect(words(silent, of: staged)).to eq(["Nothing comes back: the desk listens to the stage, as planned."])
    expect(steps(left, of: staged)).to include("Set #{staged.label("desk/channel/1")} back to the stage.")
  end

  it "says of raw lanes that nothing can be heard there, and what would help" do
    raw = hall("desk-48")
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(raw).edit.apply(raw)
    heard = described_class.new(way: way(swung), at: "", heard: {}.freeze)
    expect([states(heard, of: swung).uniq, heard.feed(swung)]).to eq([["unknown"], :unknown])
    expect(words(heard, of: swung).last).to match(/1–8 could not be heard: channels 1–8 go to the recorder raw/)
  end

  it "hears returns in a mix where lanes take sockets, and says that the channel is not known" do
    blocks = hall("desk-32", slots: (1..8).to_h { |n| ["desk/card-send/#{n + 8}", {from: "desk/output/#{n}"}] }.merge("desk/output/1" => {from: "desk/main/1"}))
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(blocks).edit.apply(blocks)
    mix = described_class.new(way: way(swung), at: "", heard: {9 => described_class.heard("pings" => (1..7).map { |n| [n, 0.5, 137, false] }, "floor_db" => -50.0)})
    expect(states(mix, of: swung)).to eq(%w[mix mix mix mix mix mix mix unknown])
    expect(mix.feed(swung)).to eq(:recorder)
    expect(words(mix, of: swung)).to include("7 of 8 come back.", "1–7 come back in a mix alone, so on which channels is not known.")
  end

  it "plans nothing where the patch is another since" do
    expect(as_heard(proof({6 => [[7, 1.0, 137, false]], 7 => [[6, 1.0, 137, false]]}).with(way: "another")).why).to include("Send the ping again")
  end

  # Read on a page: heard on the stage before the swing, "not the recorder as planned" after it.
  it "holds what was heard against no patch that came after it" do
    crossed = proof({6 => [[7, 1.0, 137, false]], 7 => [[6, 1.0, 137, false]]}).with(way: "another")
    expect([words(crossed), words(crossed.with(quick: true))]).to eq([["The desk listened to the recorder then."]] * 2)
  end

  # Desks that hold their feeds in other ways, and any permutation of lanes.
  %w[rack-20 desk-48].each do |profile|
    it "plans any permutation of lanes as it was heard: #{profile}" do
      staged = hall(profile, slots: taps)
      show = Loomshuttle::Soundcheck::Swing.to_recorder(staged).edit.apply(staged)
      random = Random.new(5)
      20.times do
        order = (1..8).to_a.shuffle(random: random)
        heard = order.each.with_index(1).to_h { |lane, n| [n, [[lane, 1.0, 137, false]]] }
        next if order == (1..8).to_a

        after = as_heard(proof(heard, of: show), of: show).edit.apply(show)
        expect(states(proof(heard, of: after), of: after).uniq).to eq(["right"])
        expect(Loomshuttle::Signal::Sources.channels(after)).to eq(Loomshuttle::Signal::Sources.channels(show))
      end
    end
  end
end

RSpec.describe "A desk whose lanes take channels behind their feed" do
  it "says once what is so of all its lanes while it listens to the recorder, and nothing of wrong sources" do
    staged = hall("desk-48", slots: (1..8).to_h { |n| ["desk/card-send/#{n}", {from: "desk/channel/#{n}", tap: "in"}] })
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(staged).edit.apply(staged)
    expect(findings(staged).select { |one| %w[silent-lane loop].include?(one.rule) }).to be_empty
    expect(findings(swung).map { |one| [one.severity, one.title] }).to include(["note", "No software monitoring while the desk listens to the recorder"])
    expect(findings(swung).map(&:severity)).not_to include("stop")
  end
end

RSpec.describe Loomshuttle::Soundcheck::State do
  def swing(show, to) = Loomshuttle::Soundcheck::Swing.public_send(:"to_#{to}", show).edit.apply(show)
  def steps(before, after) = Loomshuttle::Soundcheck::Steps.of(before, after)

  it "gives the steps of a swing in runs: whole blocks, single slots, a switch" do
    demo = show
    expect(steps(demo, swing(demo, "recorder"))).to eq(["Set channel 1–16 to card return 1–16."])
    two = hall("desk-48")
    expect(steps(two, swing(two, "recorder"))).to eq(["Set second set 1–8 to USB return 1–8.", "Switch Desk over to the second set."])
    expect(steps(swing(two, "recorder"), two)).to eq(["Take second set 1–8 off everything.", "Switch Desk back to the first set."])
    each = rack
    expect(steps(each, swing(each, "recorder"))).to include("Switch channel 1 over to the second set.")
  end

  it "keeps steps and ticks as long as they lead where the plan is" do
    there = swing(show, "recorder")
    state = described_class.new.swung(show, there, by_hand: true).ticked(0, "Ilse")
    expect(state.steps_now(there).map(&:done_by)).to eq(["Ilse", *[nil] * (state.steps.size - 1)])
    expect(state.steps_now(show)).to be_empty
    expect(described_class.from_data(JSON.parse(JSON.generate(state.to_data)))).to eq(state)
    expect { state.ticked(99, "Ilse") }.to raise_error(Loomshuttle::BadInput, /0 to/)
    expect(described_class.new.swung(show, there, by_hand: false).steps).to be_empty
  end

  it "knows on the way back whether the stage is what it was, and what is not" do
    there = swing(show, "recorder")
    state = described_class.new.swung(show, there, by_hand: false)
    expect(state.changed_since_stage(there)).to be_nil
    back = swing(there, "stage")
    expect(state.swung(there, back, by_hand: false).changed_since_stage(back)).to eq([])
    moved = swing(edit("plug", row: "list/row/4", socket: "box-a/mic/14").apply(there), "stage")
    expect(state.changed_since_stage(moved).map { |change| change[:words] }.join).to include("Tuba")
  end
end

RSpec.describe Loomshuttle::Soundcheck::LayReturns do
  def cleared(show, lanes) = show.with(patch: show.patch.with_slots(lanes.to_h { |n| ["rec/lane-out/#{n}", nil] }))
  def laid(show) = described_class.of(show).map { |one| [one.slot, one.from] }

  it "lays each track on the lane of its number, or where that is taken on the first that is free" do
    bare = cleared(show, 1..12)
    expect(laid(bare)).to eq((1..12).map { |n| ["rec/lane-out/#{n}", "rec/track/#{n}"] })
    taken = edit("connect", slot: "rec/lane-out/5", from: "songs/role/tide").apply(bare)
    expect(laid(taken)).to include(["rec/lane-out/13", "rec/track/5"], ["rec/lane-out/6", "rec/track/6"])
    expect(described_class.of(show)).to eq([])
  end

  it "says how many lanes are missing" do
    full = show.with(patch: cleared(show, [3]).patch.with_slots((1..32).to_h { |n| ["rec/lane-out/#{n}", Loomshuttle::Patch::Pick.new(from: (n == 3) ? "songs/role/click" : "rec/track/1")] }))
    expect(described_class.of(full).why).to include("more return lane")
  end
end

RSpec.describe "The mends of the soundcheck's checks" do
  def mended(show, rule, facts = Loomshuttle::Checks::Facts::NONE)
    finding = findings(show, facts).find { |one| one.rule == rule }
    expect(finding&.mend).not_to be_nil
    findings(finding.mend.edit.apply(show), facts).map(&:rule)
  end

  it "cure what they are about" do
    swung = Loomshuttle::Soundcheck::Swing.to_recorder(show).edit.apply(show)
    gone = hall("desk-48", slots: {"desk/channel/4" => {from: "desk/card-return/4", tap: "raw"}, "rec/lane-out/4" => nil})
    expect(mended(gone, "one-ended")).not_to include("one-ended")
    clash = edit("lay", takes: {"rec/lane-out/9" => {from: "songs/role/click"}}).apply(show)
    expect(mended(clash, "lane-clash")).not_to include("lane-clash")
    expect(mended(swung, "left-on", Loomshuttle::Checks::Facts.new(engine: {recording: 7}))).not_to include("left-on")
  end
end

RSpec.describe Loomshuttle::Edits::ShareReturn do
  returns = Loomshuttle::Signal::Returns

  def share(show, tracks, beside, sum_db = -3.0) = edit("share_return", tracks: tracks, beside: beside, sum_db: sum_db).apply(show)
  def id_of(number) = show.track_at("rec/track/#{number}").id

  it "brings tracks back on another's lane, at one level; theirs are free, and nobody misses them" do
    shared = share(share(show, [id_of(4)], id_of(3)), [id_of(5)], id_of(3), -6.0)
    tracks = (3..6).map { |n| shared.track_at("rec/track/#{n}") }
    expect(tracks.map { |track| returns.lane(shared, track.place) }).to eq([3, 3, 3, 6])
    expect(tracks.map { |track| returns.sum_db(shared, track) }).to eq([-6.0, -6.0, -6.0, nil])
    expect(shared.patch.slots.keys & ["rec/lane-out/4", "rec/lane-out/5"]).to be_empty
    expect(Loomshuttle::Soundcheck::LayReturns.missing(shared)).to be_empty
    sheet = Loomshuttle::Exchange::Sheets.of(shared, ["tracks"]).first
    expect(sheet[:rows].map { |row| row[5] }[2, 4]).to eq(["3, summed, each at -6 dB"] * 3 + [6])
  end

  it "is drawn: threads of all of them run to that lane, each with its level" do
    shared = share(show, [id_of(4)], id_of(3), -4.5)
    loom = Loomshuttle::Screens::Loom.weave(shared, Loomshuttle::Screens::Looms.soundcheck(shared))
    into = loom[:strands].select { |strand| strand[:to] == "rec/lane-out/3" }
    expect(into.map { |strand| strand.values_at(:from, :note, :live) }).to contain_exactly(["rec/track/3", "−4.5 dB", true], ["rec/track/4", "−4.5 dB", true])
  end

  it "leaves the channel of one that shares where nothing comes back for it alone" do
    shared = share(show, [id_of(4)], id_of(3))
    row = shared.track_at("rec/track/4").row
    channel = Loomshuttle::Signal::Sources.channels(shared).key(row)
    expect(Loomshuttle::Signal::Sources.returns(shared)).not_to have_key(channel)
    expect(Loomshuttle::Signal::Sources.returns(show)).to have_key(channel)
  end

  it "is given up again, is undone as one, and stands in the show file" do
    shared = share(show, [id_of(4)], id_of(3), -4.5)
    expect(share(shared, [id_of(4)], nil).track_at("rec/track/4")).to eq(show.track_at("rec/track/4"))
    expect(Loomshuttle::Soundcheck::LayReturns.missing(share(shared, [id_of(4)], nil)).map(&:number)).to eq([4])
    codec = Loomshuttle::Shelf.show_file
    expect(codec.parse(Loomshuttle::Exchange::ShowFile.write(shared))).to eq(shared)
    laid = edit("connect", slot: "rec/lane-out/9", from: "rec/track/4").apply(shared)
    expect([returns.lane(laid, "rec/track/4"), returns.sum_db(laid, laid.track_at("rec/track/3"))]).to eq([9, nil])
  end

  it "refuses what would be no sum of tracks with a way back" do
    shared = share(show, [id_of(4)], id_of(3))
    bare = show.with(patch: show.patch.with_slots("rec/lane-out/3" => nil))
    [[shared, [id_of(3)], id_of(5)], [shared, [id_of(5)], id_of(4)], [show, [id_of(3)], id_of(3)], [show, ["nobody"], id_of(3)], [show, [id_of(4)], "nobody"], [show, [], id_of(3)], [bare, [id_of(4)], id_of(3)]].each do |given, tracks, beside|
      expect(share(given, tracks, beside)).to be_a(Loomshuttle::Refusal)
    end
    expect(share(show, [id_of(4)], id_of(3), -2.0).field).to eq("sum_db")
  end
end

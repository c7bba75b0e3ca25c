# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Linecheck do
  let(:demo) { show }
  let(:state) { Loomshuttle::Linecheck::State.new }

  # An arrival on these lanes, first the one where it came in: [lane, dBFS, likeness, inverted, delay].
  def arrival(*lanes, frame: 1000, hum: nil, clipped: false)
    heard = lanes.map do |lane, peak_dbfs, likeness, inverted, delay|
      Loomshuttle::Ear::Heard.new(lane: lane, peak_dbfs: (peak_dbfs || -14).to_f, rise_db: 60.0, onset_frame: frame, clipped: clipped,
        like: Loomshuttle::Ear::Likeness.new(likeness: likeness || 0.3, delay_frames: delay || 0, inverted: inverted || false))
    end
    Loomshuttle::Ear::Arrival.new(id: "arrival #{frame}", frame: frame, heard: heard, floor_dbfs: -85.0, hum: hum)
  end

  def hum(over_db, level_dbfs) = Loomshuttle::Ear::Hum.new(hz: 50, over_db: over_db, level_dbfs: level_dbfs)
  def judged(row, arrival, show: demo) = Loomshuttle::Linecheck::Judge.of(show, row, arrival)
  def said(row, arrival, show: demo) = Loomshuttle::Linecheck::Said.of(show, row, Loomshuttle::Linecheck::Verdict.new(way: "", who: "", at: "", **judged(row, arrival, show: show)))

  describe Loomshuttle::Linecheck::Way do
    it "knows socket and lanes of every row, also where nothing comes through, and the way back from a lane" do
      expect(described_class.of(demo, "list/row/7")).to have_attributes(socket: "box-a/mic/7", lanes: [7])
      unplugged = show(Loomshuttle::Edits::Plug.new(row: "list/row/7", socket: nil))
      expect(described_class.of(unplugged, "list/row/7")).to have_attributes(socket: nil, lanes: [])
      expect([described_class.row_of(demo, 8), described_class.socket_of(demo, 8), described_class.row_of(demo, 30),
        described_class.socket_of(demo, 900)]).to eq(["list/row/8", "box-a/mic/8", nil, nil])
    end

    it "knows the lanes of mixes, on which everybody is heard" do
      expect([described_class.mixed_lanes(demo), described_class.mixed_lanes(rack)]).to eq([[25, 26, 27, 28], []])
    end

    it "has two lanes where a socket is laid to two, and another digest then" do
      small = rack(slots: {"desk/card-send/2" => {from: "desk/channel/1", tap: "raw"}})
      expect(described_class.of(small, "list/row/1").lanes).to eq([1, 2])
      expect(described_class.of(rack, "list/row/1").digest).not_to eq(described_class.of(small, "list/row/1").digest)
    end
  end

  describe Loomshuttle::Linecheck::Judge do
    it "tells the right place, with each fault that can be heard there" do
      {[[7]] => [], [[7, -50]] => ["low"], [[7], [8, -20, 0.8, true, 31]] => ["polarity"], [[7], [8, -20, 0.8, false, 31]] => [], [[7], [8, -20, 0.3, true]] => [],
       [[7], [11, -15, 0.999]] => ["alike"], [[7], [11, -15, 0.999, false, 40]] => [], [[7], [11, -34, 0.999]] => []}.each do |lanes, kinds|
        expect([lanes, judged("list/row/7", arrival(*lanes)).then { |found| [found[:place], found[:lane], found[:faults].map { |fault| fault[:kind] }] }]).to eq([lanes, ["right", 7, kinds]])
      end
      expect(judged("list/row/7", arrival([7], clipped: true, hum: hum(30, -50)))[:faults]).to eq([{kind: "clipped"}, {kind: "hum", hz: 50, over_db: 30, level_dbfs: -50}])
      [hum(14, -50), hum(30, -80), nil].each { |one| expect(judged("list/row/7", arrival([7], hum: one))[:faults]).to eq([]) }
    end

    it "tells the wrong place, whatever bleeds into the right one" do
      expect(judged("list/row/7", arrival([8, -14], [7, -34, 0.9, false, 90]))).to include(place: "elsewhere", lane: 8)
    end

    it "takes any of the lanes that a source is laid to for its own" do
      small = rack(slots: {"desk/card-send/2" => {from: "desk/channel/1", tap: "raw"}})
      expect(judged("list/row/1", arrival([2, -14], [1, -14.1, 1.0]), show: small)).to include(place: "right", faults: [])
    end

    it "says it in words, naming both ends" do
      expect(said("list/row/7", arrival([10]))).to eq(["It came in on lane 10.", "That is the place of 10 Toy piano. Plugs 7 and 10 at Box A look swapped."])
      # The other side of the pair hears it anyhow; with their plugs swapped its own lane has something too.
      expect(said("list/row/7", arrival([8], [7, -23, 0.9, false, 144]))).to eq(["It came in on lane 8.", "That is the place of 8 Overhead R. Plugs 7 and 8 at Box A look swapped."])
      expect(said("list/row/7", arrival([8])).last).to start_with("That is the place of 8 Overhead R. Plugs 7 and 8 at Box A look swapped. Or nothing comes from it, ")
      expect(said("list/row/7", arrival([15])).last).to eq("That is Box A socket 15, where the plan has nothing; it should be at Box A socket 7.")
      expect(said("list/row/7", arrival([7], [8, -20, 0.8, true, 31])).last).to eq("Its polarity is opposite to 8 Overhead R: turn one of the two round.")
      expect(said("list/row/7", arrival([7], [11, -15, 0.999])).last).to eq("The same is on lane 11 too, where the plan has something else.")
    end
  end

  describe Loomshuttle::Linecheck::Suspect do
    it "names the first thing that the plan lacks, then what it cannot know" do
      unplugged = Loomshuttle::Edits::Plug.new(row: "list/row/7", socket: nil)
      unpowered = Loomshuttle::Edits::Power.new(sockets: ["box-a/mic/7"], on: false)
      expect([show(unplugged), show(unpowered), show].map { |one| described_class.of(one, "list/row/7")[0, 45] })
        .to eq(["The plan has it plugged in nowhere.", "Phantom power is off at Box A socket 7, and i", "The plan's way is whole, from Box A socket 7 "])
      far = Loomshuttle::Edits::Plug.new(row: "list/row/7", socket: "desk/mic/30")
      expect(described_class.of(show(far), "list/row/7")).to include("is laid to no lane of the recorder")
    end
  end

  describe Loomshuttle::Linecheck::Repatch do
    # With a true plug of its own: what is tapped as that row comes in at that socket.
    def lanes_of_socket(show, socket) = (1..64).select { |lane| Loomshuttle::Linecheck::Way.socket_of(show, lane) == socket }

    it "lets the slots follow where each lane chooses, so that every source keeps its lanes" do
      small = rack(slots: {"desk/card-send/2" => {from: "desk/channel/2", tap: "raw"}})
      mend = described_class.of(small, "list/row/1", 2)
      after = mend.edit.apply(small)
      expect([mend.label, after.patch.plugs.values_at("list/row/1", "list/row/2")]).to eq(["Patch it that way instead", ["desk/mic/2", "desk/mic/1"]])
      expect(Loomshuttle::Linecheck::Way.all(after).transform_values(&:lanes)).to eq(Loomshuttle::Linecheck::Way.all(small).transform_values(&:lanes))
      expect(lanes_of_socket(after, "desk/mic/2")).to eq([1])
      expect(undo(mend.edit, small).apply(after)).to eq(small)
    end

    it "lets tracks change places where the desk patches in blocks, and takes a free one where nobody was planned" do
      mend = described_class.of(demo, "list/row/7", 8)
      after = mend.edit.apply(demo)
      expect(mend.label).to eq("Plan it on lane 8")
      expect(after.tracks.values.to_h { |track| [track.name, track.place] }.values_at("Overhead L", "Overhead R")).to eq(%w[rec/track/8 rec/track/7])
      expect(undo(mend.edit, demo).apply(after)).to eq(demo)
      moved = described_class.of(demo, "list/row/7", 15).edit.apply(demo)
      expect(titles(moved) - titles(demo)).to eq(["Overhead L and Overhead R do not lie as a pair", "1 microphone without phantom power"])
    end

    it "says why it cannot be" do
      expect([described_class.of(demo, "list/row/7", 30), described_class.of(demo, "list/row/7", 7)].map(&:why))
        .to eq(["Lane 30 comes from no socket, so the patch cannot follow.", "It is planned at Box A socket 7 already."])
    end

    it "makes the plan agree with what was heard, for any two plugs on any desk" do
      wrong = %w[rack-20 desk-32-compact desk-32 desk-48].product([1, 3, 8], [2, 7]).filter_map do |profile, one, other|
        before = hall(profile)
        mend = described_class.of(before, "list/row/#{one}", Loomshuttle::Linecheck::Way.of(before, "list/row/#{other}").lanes.first)
        after = mend.is_a?(Loomshuttle::Refusal) ? before : mend.edit.apply(before)
        # The source is really in the other's socket: does the plan now have it on the lane on which that one comes?
        heard = lanes_of_socket(after, "desk/mic/#{other}")
        [profile, one, other, heard] unless Loomshuttle::Linecheck::Way.of(after, "list/row/#{one}").lanes == heard && heard.any?
      end
      expect(wrong).to eq([])
    end
  end

  describe Loomshuttle::Linecheck::State do
    def heard(state, lane, frame:) = state.heard(demo, arrival([lane], frame: frame), at: "2026-11-26T18:00:00Z")

    it "judges nobody by hum that began, keeps it until somebody has seen it, and comes back from data as it was" do
      begun = state.begun(demo, "Ilse")
      now = begun.heard(demo, arrival([9], hum: hum(40, -32.04)).with(humming: true), at: "2026-11-26T18:00:00Z")
      expect([now.row, now.verdicts, now.hums]).to eq([begun.row, {}, {9 => {hz: 50, level_dbfs: -32.0, at: "2026-11-26T18:00:00Z"}}])
      expect(Loomshuttle::Linecheck::Said.humming(demo, 9, now.hums[9])).to start_with("Hum of 50 Hz began on lane 9 (9 Accordion), -32 dBFS: it was not taken for a tap.")
      expect(described_class.from_data(JSON.parse(JSON.generate(now.to_data)))).to eq(now)
    end

    it "goes down the list, stays where something is wrong, and opens again what is about another way" do
      begun = state.begun(demo, "Ilse")
      now = heard(heard(begun, 1, frame: 10), 2, frame: 20)
      expect([begun.row, now.row, now.verdict(demo, "list/row/1").then { |one| [one.fine?, one.who] }]).to eq(["list/row/1", "list/row/3", [true, "Ilse"]])
      wrong = heard(now, 4, frame: 30)
      expect([wrong.row, wrong.verdict(demo, "list/row/3").place, wrong.verdict(demo, "list/row/3").fine?]).to eq(["list/row/3", "elsewhere", false])
      again = heard(wrong.turned("list/row/3"), 3, frame: 40)
      expect(again.row).to eq("list/row/4")
      replugged = show(Loomshuttle::Edits::Plug.new(row: "list/row/1", socket: "box-a/mic/13"))
      expect([again.verdict(replugged, "list/row/1"), again.overtaken?(replugged, "list/row/1"), again.next_open(replugged, "list/row/12")]).to eq([nil, true, "list/row/1"])
    end

    # Whoever walks the stage goes on by himself: the second of two swapped plugs proved the first one, and the rest was off by one.
    it "does not take the next tap for the plugs put right, nor for anybody's, until somebody says how it goes on" do
      wrong = heard(state.begun(demo).turned("list/row/7"), 8, frame: 10)
      since = heard(wrong, 7, frame: 20)
      expect([since.row, since.verdicts, since.since]).to eq(["list/row/7", wrong.verdicts, {lane: 7, at: "2026-11-26T18:00:00Z"}])
      expect(Loomshuttle::Linecheck::Said.since(demo, since.since)).to start_with("Since then something came in on lane 7, where the plan has 7 Overhead L.")
      expect(described_class.from_data(JSON.parse(JSON.generate(since.to_data)))).to eq(since)
      expect(heard(since, 8, frame: 30).then { |now| [now.row, now.since, now.standing(demo, "list/row/7")] }).to eq(["list/row/7", nil, "wrong"])
      expect(heard(since.reopened(%w[list/row/7 list/row/8]), 7, frame: 30).then { |now| [now.row, now.standing(demo, "list/row/7")] }).to eq(["list/row/8", "fine"])
      left = since.left(demo, "list/row/7", who: "", at: "")
      expect([left.row, left.standing(demo, "list/row/7"), left.since]).to eq(["list/row/8", "wrong", nil])
      expect(heard(left, 7, frame: 40).then { |now| [now.row, now.verdict(demo, "list/row/8").then { |found| [found.place, found.lane] }] }).to eq(["list/row/8", ["elsewhere", 7]])
      expect(left.left(demo, "list/row/8", who: "", at: "").then { |now| [now.row, now.standing(demo, "list/row/8")] }).to eq(["list/row/9", "skipped"])
      nobody = state.begun(demo).turned("list/row/7").judged(demo, "list/row/7", who: "", at: "", place: "nothing")
      expect(heard(nobody, 7, frame: 50).since).to include(lane: 7)
    end

    it "takes the next one for the next one where the one before was in its place, whatever else was wrong with it" do
      hums = state.begun(demo).turned("list/row/7").heard(demo, arrival([7], hum: hum(40, -32.0)).with(id: "hums"), at: "")
      expect([hums.row, hums.standing(demo, "list/row/7")]).to eq(["list/row/7", "wrong"])
      expect(heard(hums, 7, frame: 60).then { |now| [now.row, now.standing(demo, "list/row/7")] }).to eq(["list/row/8", "fine"])
      expect(heard(hums, 8, frame: 60).then { |now| [now.row, now.standing(demo, "list/row/7"), now.standing(demo, "list/row/8")] }).to eq(["list/row/9", "wrong", "fine"])
      expect(heard(hums, 9, frame: 60).then { |now| [now.row, now.verdict(demo, "list/row/8").lane] }).to eq(["list/row/8", 9])
    end

    it "judges no arrival twice, none while it does not listen, and none of a row that is gone" do
      begun = state.begun(demo)
      now = heard(begun, 1, frame: 10)
      expect([heard(now, 2, frame: 10), heard(now.stopped, 2, frame: 20)]).to eq([now, now.stopped])
      expect(now.with(row: "list/row/gone").heard(demo, arrival([2], frame: 20), at: "").verdicts.keys).to eq(["list/row/1"])
    end

    it "takes whoever comes, when anybody may" do
      free = state.with(free: true).begun(demo)
      now = heard(heard(free, 5, frame: 10), 3, frame: 20)
      expect([now.verdicts.keys, now.verdicts.values.map(&:place), now.row]).to eq([%w[list/row/5 list/row/3], %w[right right], "list/row/4"])
      expect(heard(now, 30, frame: 30).verdicts.size).to eq(2)
    end

    it "goes on with the rest, skipped ones last, and ends when all are done" do
      done = (1..12).reduce(state.begun(demo)) { |now, n| (n == 4) ? now.judged(demo, "list/row/4", who: "", at: "", place: "skipped") : heard(now, n, frame: n) }
      expect([done.row, done.stopped.begun(demo).row]).to eq([nil, "list/row/4"])
      expect(heard(done.stopped.begun(demo), 4, frame: 99).row).to be_nil
    end

    it "is a fact: what was never heard, and what came in wrong, once a check was begun" do
      found = lambda do |now, on = demo|
        Loomshuttle::Checks::All.findings(on, Loomshuttle::Checks::Facts.new(linecheck: now.facts(on))).select { |one| one.rule == "unheard" }
      end
      begun = state.begun(demo)
      expect(found[begun]).to eq([])
      some = (1..9).reduce(begun) { |now, n| heard(now, n, frame: n) }
      expect(found[some].map { |one| [one.severity, one.step, one.title] }).to eq([["note", "line-check", "3 sources were never heard"]])
      wrong = heard(some, 4, frame: 99)
      expect(found[wrong].map { |one| [one.severity, one.title, one.what] }.first).to eq(["warn", "Toy piano did not pass the line check", "It came in on lane 4. That is the place of 4 Tuba. Plugs 10 and 4 at Box A look swapped."])
      hums, silent = some.heard(demo, arrival([10], hum: hum(40, -32.0)).with(id: "hums"), at: ""), some.judged(demo, "list/row/10", who: "", at: "", place: "nothing")
      expect([wrong, hums, silent].map { |now| found[now].first.why }).to eq(["Whoever needs it in the show gets something else, or nothing.", "So it is in every mix and on the recording.", "Whoever needs it in the show gets nothing."])
      expect(found[(10..12).reduce(some) { |now, n| heard(now, n, frame: n) }]).to eq([])
      # A source that is carried out of the list is forgotten; one that is plugged elsewhere is to be heard again.
      expect(found[wrong, show(edit("rows", rows: {"list/row/10" => nil}))].map(&:title)).to eq(["2 sources were never heard"])
      expect(found[some, show(edit("plug", row: "list/row/1", socket: "box-a/mic/13"))].map(&:title)).to eq(["4 sources were never heard"])
    end

    it "is a sheet on paper once it was begun, what was found in words" do
      sheets = ->(now) { Loomshuttle::Exchange::Sheets.of(demo, ["linecheck"], check: now) }
      expect([sheets[nil], sheets[state.begun(demo)]]).to eq([[], []])
      now = heard(heard(state.begun(demo, "Ilse"), 1, frame: 1), 5, frame: 2).judged(demo, "list/row/4", who: "Jo", at: "2026-11-26T18:05:00Z", place: "skipped")
      sheet = sheets[now].first
      expect(sheet.values_at(:key, :title)).to eq(["linecheck", "Line check"])
      expect(sheet[:rows].first(4)).to eq([[1, "Hurdy-gurdy", "Box A socket 1", "1", "proved", -14.0, "", "Ilse", "2026-11-26 18:00"],
        [2, "Cimbalom L", "Box A socket 2", "2", "to mend", -14.0, "It came in on lane 5. That is the place of 5 Kick. Plugs 2 and 5 at Box A look swapped.", "Ilse", "2026-11-26 18:00"],
        [3, "Cimbalom R", "Box A socket 3", "3", "not heard", "", "", "", ""], [4, "Tuba", "Box A socket 4", "4", "skipped", "", "Skipped.", "Jo", "2026-11-26 18:05"]])
      expect(Loomshuttle::Exchange::Sheets.csv(sheet).lines.size).to eq(13)
    end

    it "goes in the order of the boxes when told to, and comes back the same through data" do
      moved = show(Loomshuttle::Edits::Plug.new(row: "list/row/12", socket: "box-a/mic/16"), Loomshuttle::Edits::Plug.new(row: "list/row/1", socket: nil))
      expect(state.with(order: "boxes").rows(moved).values_at(0, 10, 11)).to eq(["list/row/2", "list/row/12", "list/row/1"])
      now = heard(heard(state.begun(demo), 1, frame: 10), 9, frame: 20)
      expect(Loomshuttle::Linecheck::State.from_data(JSON.parse(JSON.generate(now.to_data)))).to eq(now)
    end
  end

  describe Loomshuttle::Linecheck::Gain do
    it "turns to the aim in whole dB, and never so far that the loudest so far would clip" do
      {[-14.0, -30.2, -18] => [12.2, 12], [-6.0, -30.0, -18] => [12.0, 5], [-0.2, -10.0, -18] => [-8.0, -8], [0.0, -18.0, -18] => [0.0, -1], [-20.0, -40.0, -20] => [20.0, 19]}
        .each do |(peak, rms, aim), wanted|
        expect([peak, described_class.of(peak_dbfs: peak, rms_dbfs: rms, aim_dbfs: aim).values]).to eq([peak, wanted])
      end
      expect([described_class.of(peak_dbfs: nil, rms_dbfs: nil), described_class.of(peak_dbfs: -3.0, rms_dbfs: nil)]).to eq([nil, nil])
    end

    # EBU R 68: -18 dBFS is 0 dBu where full scale is +18; SMPTE RP 155: -20 dBFS is +4 dBu where it is +24.
    it "knows dBu as the standards align it" do
      expect([described_class.dbu(-18, 18), described_class.dbu(-20, 24)]).to eq([0.0, 4.0])
    end
  end
end

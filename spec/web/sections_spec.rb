# frozen_string_literal: true

require "core_helper"
require "support/web_model"

RSpec.describe "Sections in the page" do
  def added(sections, bar, name) = WebModel.call("sections", "withSection", sections, bar, name)
  def at(frame) = WebModel.call("sections", "sectionAt", [{name: "A", from_frame: 100, to_frame: 200}, {name: "B", from_frame: 200, to_frame: 300}], frame).transform_values { |one| one&.fetch("name") }

  it "stand by bar, each with an id of its own and the dye of those that are called alike" do
    all = [[9, "Chorus 1"], [1, "Verse 1"], [17, "Verse 2"], [25, "Chorus 2"], [33, "Brücke"], [41, "!"]].reduce([]) { |sections, (bar, name)| added(sections, bar, name) }
    expect(all.map { |one| one.values_at("bar", "id") }).to eq([[1, "verse-1"], [9, "chorus-1"], [17, "verse-2"], [25, "chorus-2"], [33, "bru-cke"], [41, "part"]])
    dyes = all.map { |one| one["colour"] }
    expect([dyes[0] == dyes[2], dyes[1] == dyes[3], dyes.values_at(0, 1, 4, 5).uniq.size]).to eq([true, true, 4])
    expect(added(all, 9, "Hook").map { |one| one["name"] }.first(2)).to eq(["Verse 1", "Hook"])
    expect(added(all, 50, "Verse 1").last["id"]).to eq("verse-1-2")
  end

  # Which name stands in each bar: what drawing means, bar by bar.
  def by_bar(sections, bars) = (1..bars).map { |bar| sections.select { |one| one["bar"] <= bar }.max_by { |one| one["bar"] }&.fetch("name") }

  it "are drawn over bars: the rest stays as it was, whatever lay there (random cases against a list of bars)" do
    random = Random.new(7)
    200.times do
      bars = random.rand(1..24)
      all = (1..bars).to_a.sample(random.rand(0..6), random: random).each_with_index.reduce([]) { |sections, (bar, at)| added(sections, bar, "S#{at}") }
      from, to = [random.rand(1..bars), random.rand(2..bars + 1)].minmax
      to += 1 if from == to
      drawn = WebModel.call("sections", "drawn", all, from, to, "New", bars)
      # Where nothing stood, what is drawn goes on up to what comes.
      want = by_bar(all, bars).each_with_index.map { |name, at| (at + 1).between?(from, to - 1) ? "New" : name }
      want.each_index { |at| want[at] = "New" if at + 1 >= to && want[at].nil? }
      expect([by_bar(drawn, bars), drawn.map { |one| one["bar"] }, drawn.map { |one| one["id"] }.uniq.size]).to eq([want, drawn.map { |one| one["bar"] }.sort.uniq, drawn.size])
    end
  end

  it "keep who they are where they go on behind what is drawn" do
    all = [[1, "Verse"], [9, "Chorus"]].reduce([]) { |sections, (bar, name)| added(sections, bar, name) }
    ids = ->(from, to) { WebModel.call("sections", "drawn", all, from, to, "Solo", 16).map { |one| one.values_at("bar", "id") } }
    expect([ids[3, 5], ids[7, 11], ids[1, 5], ids[9, 17]])
      .to eq([[[1, "verse"], [3, "solo"], [5, "verse-2"], [9, "chorus"]], [[1, "verse"], [7, "solo"], [11, "chorus"]],
        [[1, "solo"], [5, "verse"], [9, "chorus"]], [[1, "verse"], [9, "solo"]]])
  end

  it "begin at another bar, never past their neighbours" do
    all = [[1, "A"], [5, "B"], [9, "C"]].reduce([]) { |sections, (bar, name)| added(sections, bar, name) }
    moved = ->(id, bar) { WebModel.call("sections", "movedTo", all, id, bar, 16).map { |one| one["bar"] } }
    expect([moved["b", 3], moved["b", 40], moved["b", -2], moved["c", 40], moved["a", 0], moved["a", 6]]).to eq([[1, 3, 9], [1, 8, 9], [1, 2, 9], [1, 5, 16], [1, 5, 9], [4, 5, 9]])
  end

  it "are found by the bar under a frame" do
    expect([-5, 0, 99, 100, 249, 250, 299, 300, 900].map { |frame| WebModel.call("sections", "barAt", [0, 100, 250, 300], frame) }).to eq([1, 1, 1, 2, 2, 3, 3, 3, 3])
  end

  it "lie elsewhere at another tempo that lies ready" do
    song = {percent: 100, playing_frames: 300, sections: [{name: "A", from_frame: 100, to_frame: 200}, {name: "B", from_frame: 200, to_frame: 300}],
            at_tempi: [{percent: 100, playing_frames: 300, sections: [[100, 200], [200, 300]]}, {percent: 50, playing_frames: 600, sections: [[200, 400], [400, 601]]}]}
    slow = WebModel.call("sections", "songAt", song, 50)
    lies = slow["sections"].map { |one| one.values_at("name", "from_frame", "to_frame") }
    expect([slow["percent"], slow["playing_frames"], lies]).to eq([50, 600, [["A", 200, 400], ["B", 400, 601]]])
    expect([nil, 100, 70].map { |percent| WebModel.call("sections", "songAt", song, percent)["sections"].first["from_frame"] }).to eq([100, 100, 100])
  end

  it "are found by what sounds, to the frame" do
    expect([99, 100, 199, 200, 299, 300].map { |frame| at(frame).values_at("now", "next") }).to eq([[nil, "A"], ["A", "B"], ["A", "B"], ["B", nil], ["B", nil], [nil, nil]])
  end
end

RSpec.describe "The set list's words" do
  def song(seconds, **listed) = {title: "Reeds", sample_rate_hz: 1000, playing_frames: seconds * 1000, listed: {after: "go", wait_s: 9, talk_s: 0, break_s: 0, **listed}}

  it "count what lies between songs, and nothing behind the last one" do
    songs = [song(60, talk_s: 30), song(90, after: "wait", wait_s: 6), song(30, break_s: 600)]
    expect(WebModel.call("setList", "setLength", songs)).to eq({"music_s" => 180, "all_s" => 216})
    expect(WebModel.call("setList", "setLength", [])).to eq({"music_s" => 0, "all_s" => 0})
  end

  it "say what happens at a song's end" do
    said = %w[go on wait stop].map { |after| WebModel.call("setList", "afterWords", {after: after, wait_s: 6}) }
    expect(said).to eq(["waits for Go", "goes on without a gap", "goes on after 6 s", "the set stops behind it"])
    expect(WebModel.call("setList", "comesNext", song(5), song(4, after: "wait")[:listed])).to eq("Next: Reeds, 9 s behind it")
  end
end

RSpec.describe "Pedals" do
  def read(*bytes) = WebModel.call("midiKeys", "readMessage", bytes)

  # MIDI 1.0: status bytes 8n, 9n and Bn; a note on of velocity 0 is a note off; a switch controller is on from 64.
  it "are read from messages of MIDI 1.0" do
    expect(read(0x90, 60, 1)).to eq({"key" => {"kind" => "note", "channel" => 1, "number" => 60}, "down" => true})
    expect([read(0x9F, 60, 0), read(0x8F, 60, 64)].map { |one| [one["key"]["channel"], one["down"]] }).to eq([[16, false], [16, false]])
    expect([63, 64].map { |value| read(0xB3, 64, value)["down"] }).to eq([false, true])
    expect([read(0xF8), read(0xE0, 0, 64), read(0xC0, 3)]).to eq([nil, nil, nil])
  end

  it "do one thing each: whoever learns one last has it; what is kept and cannot be read is nothing" do
    key = {kind: "note", channel: 1, number: 60}
    learnt = WebModel.call("midiKeys", "learn", WebModel.call("midiKeys", "learn", {}, "go", key), "stop", key)
    expect(learnt).to eq({"stop" => "note 60 on channel 1"})
    expect([WebModel.call("midiKeys", "actionOf", learnt, key), WebModel.call("midiKeys", "actionOf", learnt, key.merge(channel: 2))]).to eq(["stop", nil])
    kept = ["{", "[]", "null", '{"go": 3, "stop": "note 1 on channel 1"}']
    expect(kept.map { |text| WebModel.call("midiKeys", "readLearnt", text) }).to eq([{}, {}, {}, {"stop" => "note 1 on channel 1"}])
  end
end

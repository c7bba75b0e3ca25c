# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Screens::Why do
  {"rec/track/9" => "Track 9 gets nothing: card lane 9 takes local socket 9, where nothing is plugged in.",
   "rec/track/13" => "Track 13 gets nothing: nothing is laid on it.",
   "desk/bus/9" => "Bus 9 gets nothing: no channel is sent to it.",
   "desk/mic/20" => "Local socket 20 gets nothing: nothing is plugged in.",
   "desk/aes50-b-in/3" => "AES50 B lane 3 gets nothing: no cable brings anything there.",
   "box-a/out-socket/8" => "Box A out 8 gets nothing: AES50 A send 8 takes output 16, which takes nothing."}.each do |id, sentence|
    it("answers for #{id}") { expect(described_class.of(planted, id)).to have_attributes(sentence: sentence, fine: false) }
  end

  it "offers the mend of the check that knows the cure" do
    answer = described_class.of(planted, "rec/track/9")
    expect(answer.broken).to eq("desk/mic/9")
    expect(described_class.of(answer.mend.edit.apply(planted), "rec/track/9")).to have_attributes(fine: true, sentence: start_with("Track 9 gets Accordion."))
  end

  # place => what hovering it says
  {"desk/channel/1" => /\AChannel 1 carries Hurdy-gurdy: Box A socket 1 → channel 1, heard at Main PA, .*; recorded on track 1\.\z/,
   "desk/bus/1" => /\ABooth wedge \(bus 1\) mixes 15 sources, heard at Booth wedge\.\z/,
   "desk/matrix/1" => /\AMatrix 1 takes nothing\.\z/,
   "desk/mic/20" => /\ALocal socket 20: nothing is plugged in\.\z/,
   "songs/role/click" => /\ARole click goes to channel 31, heard at Booth wedge, Drummer's in-ear\.\z/,
   "rec/lane-out/29" => /\AReturn lane 29 goes to channel 29, heard at /,
   "booth/in/1" => /\ABooth wedge ← Box A out 1 ← output 9 ← Booth wedge \(bus 1\)\.\z/,
   "box-a/out-socket/8" => /\ABox A out 8 ← output 16, which takes nothing\.\z/}.each do |id, sentence|
    it("says of #{id} what it carries") { expect(Loomshuttle::Signal::Sentence.of(show, id)).to match(sentence) }
  end

  it "says what a mix is made of in few words, and what has a name by it" do
    grouped = show(edit("rename", id: "desk/bus/7", name: "Voices"), edit("send", channel: "desk/bus/7", mix: "desk/main/1"))
    expect(Loomshuttle::Signal::Sentence.of(grouped, "desk/main/1", :back)).to eq("Main L (main 1) mixes channel 1–12, 29–30 and Voices (bus 7).")
  end

  it "says of a place that a model lacks that it has it not" do
    compact = Loomshuttle::Demo.show(Loomshuttle::Demo.mended.tap { |data| data[:devices].first[:profile] = "desk-32-compact" })
    expect(described_class.of(compact, "desk/mic/20").sentence).to eq("Local socket 20 gets nothing: this model does not have it.")
  end

  it "follows a source as far as it goes" do
    unplugged = show(edit("plug", row: "list/row/9", socket: nil))
    expect(described_class.of(unplugged, "list/row/9").sentence).to eq("Accordion is heard nowhere: it is not plugged in.")
    loose = show(edit("plug", row: "list/row/9", socket: "box-a/mic/16"), edit("clear", slot: "desk/channel/9"))
    expect(described_class.of(loose, "list/row/9").sentence).to eq("Accordion stops at Box A socket 16: no channel takes it.")
    unsent = show.with(patch: show.patch.with(sends: {}.freeze))
    expect(described_class.of(unsent, "list/row/9").sentence).to eq("Accordion stops at channel 9: it is sent to no mix that anybody hears.")
  end

  it "says what a mix, a playing lane and a socket that a model lacks are about" do
    expect(described_class.of(show, "desk/main/1")).to have_attributes(fine: true)
    expect(described_class.of(show, "desk/card-return/1").sentence).to eq("Card return 1 plays Hurdy-gurdy from disk, whenever a take runs.")
    compact = Loomshuttle::Demo.show(Loomshuttle::Demo.mended.tap { |data| data[:devices].first[:profile] = "desk-32-compact" })
    expect(described_class.of(compact, "desk/channel/24").sentence).to eq("Channel 24 gets nothing: channel 24 takes local socket 8, where nothing is plugged in.")
    expect { described_class.of(show, "desk/lamp/1") }.to raise_error(Loomshuttle::BadInput)
  end
end

RSpec.describe "Loops and double ways" do
  it "finds a source that reaches a mix directly and through a group, with the comb's first notch" do
    double = show(edit("send", channel: "desk/channel/5", mix: "desk/bus/7"),
      edit("send", channel: "desk/bus/7", mix: "desk/main/1"),
      edit("send", channel: "desk/bus/7", mix: "desk/main/2"))
    found = finding(double, "double-path")
    # 1/(2d): 8 samples at 48 kHz are 1/6000 s, so the first notch lies at 3 kHz.
    expect(found.what).to eq("Channel 5 reaches Main L (main 1) and Main R (main 2) directly (0 samples) and through bus 7 (8 samples): 8 samples apart, with the first comb notch at 3000 Hz.")
    expect(rules(found.mend.edit.apply(double))).not_to include("double-path")
    expect(rules(show)).not_to include("double-path")
  end

  it "finds a source in two channels where they arrive at different times, and leaves a split that arrives together alone" do
    split = show(edit("connect", slot: "desk/channel/17", from: "desk/aes50-a-in/1"), *(1..8).map { |n| edit("split", socket: "box-a/mic/#{n}") })
    together = edit("send", channel: "desk/channel/17", mix: "desk/main/1").apply(split)
    expect(rules(together)).to eq([])
    grouped = [edit("send", channel: "desk/channel/17", mix: "desk/bus/7"), edit("send", channel: "desk/bus/7", mix: "desk/main/1")].reduce(split) { |now, one| one.apply(now) }
    expect(finding(grouped, "double-path")).to have_attributes(mend: nil,
      what: "Channel 1 reaches Main L (main 1) through channel 1 (0 samples) and through channel 17 and bus 7 (8 samples): 8 samples apart, with the first comb notch at 3000 Hz.")
  end

  it "finds a loop through the outputs, and none where there is none" do
    expect(Loomshuttle::Signal::Cycles.of(show)).to eq([])
    looped = rack(slots: {"desk/card-send/2" => {from: "desk/channel/2", tap: "in"},
                          "rec/track/2" => {from: "rec/lane-in/2"},
                          "rec/lane-out/2" => {from: "rec/track/2"},
                          "desk/channel/2" => {from: "desk/card-return/2", tap: "raw"}})
    expect(Loomshuttle::Signal::Cycles.of(looped).map(&:sort)).to eq([%w[desk/card-return/2 desk/card-send/2 desk/channel/2 rec/lane-in/2 rec/lane-out/2 rec/track/2]])
  end
end

RSpec.describe Loomshuttle::Audio::Timing do
  # ISO 9613-1: 343.2 m/s at 20 C, 331.3 at 0 C; 34.3 m at 20 C are 100 ms.
  {20 => 343.2, 0 => 331.3}.each do |celsius, speed|
    it("knows the speed of sound at #{celsius} C") { expect(described_class.speed_of_sound_m_per_s(celsius)).to be_within(0.05).of(speed) }
  end
  it("delays 34.3 m by 100 ms") { expect(described_class.distance_ms(34.3, 20)).to be_within(0.1).of(100) }
  {256 => 5.33, 1024 => 21.33}.each do |frames, ms|
    it("gives #{frames} frames at 48 kHz #{ms} ms") { expect(described_class.buffer_ms(frames, 48_000)).to be_within(0.005).of(ms) }
  end
end

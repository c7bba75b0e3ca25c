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

# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Capture::TakeGuard do
  let(:tracks) { %w[rec/track/1 rec/track/9] }

  def harm(one) = described_class.harm(show, one.apply(show), tracks: tracks, number: 4)

  it "says what an edit would do to the running take" do
    {edit("show_rate", rate_hz: 44_100) => "set the show to 44.1 kHz",
     edit("remove_device", id: "rec") => "take out",
     edit("clear", slot: "rec/track/1") => "give another lane to Hurdy-gurdy",
     edit("connect", slot: "desk/card-send/9", from: "desk/mic/9", tap: "raw") => "put another signal on Accordion",
     Loomshuttle::Soundcheck::Swing.to_recorder(show).edit => "turn the desk's feed"}.each do |one, words|
      expect(harm(one)).to start_with("Take 4 runs. This would ").and(include(words))
    end
  end

  it "leaves everything else free" do
    [edit("rename", id: "list/row/1", name: "Drone"), edit("clear", slot: "rec/track/2"), edit("power", sockets: ["box-a/mic/4"]),
      edit("arm", tracks: ["rec/track/1"], armed: false)].each do |one|
      expect(harm(one)).to be_nil
    end
  end
end

RSpec.describe Loomshuttle::Capture::Session do
  let(:session) { described_class.new }

  it "makes one stereo track of both sides of a pair, and mono ones of the others" do
    plans = session.tracks(show)
    expect(plans.map { |plan| [plan.file, plan.lanes] }.first(3)).to eq([["01 Hurdy-gurdy", [1]], ["02 Cimbalom", [2, 3]], ["04 Tuba", [4]]])
    expect([plans.sum { |plan| plan.lanes.size }, plans[1].channel_names]).to eq([12, ["Cimbalom L", "Cimbalom R"]])
    expect(session.with(stereo: false).tracks(show).size).to eq(12)
  end

  it "keeps the sides apart where only one is armed" do
    one = show(edit("arm", tracks: ["rec/track/3"], armed: false))
    expect(session.tracks(one).map { |plan| [plan.lanes, plan.armed] }[1, 2]).to eq([[[2], true], [[3], false]])
  end

  it "takes what is usual for what was never said" do
    expect(described_class.from_h({"preroll_s" => 5, "copy" => nil})).to have_attributes(preroll_s: 5, encoding: "pcm24", copy: nil, carry_on: true)
  end
end

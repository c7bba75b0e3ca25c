# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Edits::RecordMix do
  let(:print_mix) { edit("record_mix", desk: "desk", computer: "rec") }

  # What arrives at each of the new tracks, walked back through the whole patch.
  def arriving(show)
    tracks = show.tracks.values.select { |track| track.name.start_with?("Main") }
    tracks.map { |track| [track.name, show.graph.line_back(track.place).find { |place| place.include?("/main/") }] }
  end

  it "prints both sides of the main mix to spare lanes, of every desk, and disturbs nothing" do
    Loomshuttle::Shelf.profiles.values.select { |profile| profile.kind == "desk" }.each do |profile|
      before = hall(profile.name)
      after = print_mix.apply(before)
      expect(arriving(after)).to eq([["Main L", "desk/main/1"], ["Main R", "desk/main/2"]]), profile.name
      expect(before.patch.slots.all? { |slot, take| after.patch.slots[slot] == take }).to be(true)
      expect(Loomshuttle::Capture::Session.new.tracks(after).last(2).map(&:armed)).to eq([true, true])
      expect(undo(print_mix, before).apply(after)).to eq(before)
    end
  end

  it "takes the outputs that carry the mix already where it can, and does nothing twice" do
    after = print_mix.apply(show)
    expect(arriving(after).map(&:last)).to eq(["desk/main/1", "desk/main/2"])
    expect(after.patch.slots.count { |_, take| take.from == "desk/main/1" }).to eq([show.patch.slots.count { |_, take| take.from == "desk/main/1" }, 1].max)
    expect(print_mix.apply(after)).to have_attributes(why: "The main mix is recorded already.")
  end

  it "says what is missing where no lanes are spare" do
    full = show(*(1..32).step(8).map { |n| edit("connect", slot: "desk/card-send/#{n}", from: "desk/mic/#{n}") })
    expect(print_mix.apply(full)).to have_attributes(why: /no two spare lanes beside each other/)
    expect(edit("record_mix", desk: "rec", computer: "rec").apply(show)).to have_attributes(why: "There is no desk rec.")
  end
end

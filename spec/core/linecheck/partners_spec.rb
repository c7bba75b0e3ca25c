# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Linecheck::Partners do
  # Rows that are no pairs in the show of the specs.
  let(:rows) { [1, 4, 5, 6, 9, 10].map { |n| "list/row/#{n}" } }

  # @return [Array<Array<Integer>>] places of each one's partners, from 1
  def partners(*names)
    named = show(edit("rows", rows: rows.zip(names).first(names.size).to_h.transform_values { |name| {name: name} }))
    rows.first(names.size).map { |id| described_class.of(named, id).map { |other| rows.index(other) + 1 } }
  end

  it "are those whose names differ in where the microphone stands, and both sides of a pair" do
    expect(partners("Kick in", "Snare top", "KICK OUT", "Snare bottom", "Bass", "Bass DI")).to eq([[3], [4], [1], [2], [6], [5]])
    expect(described_class.of(show, "list/row/7")).to eq(["list/row/8"])
    expect(partners("Guitar amp L", "Guitar amp R", "Guitar DI L", "Tom", "Tom 2", "in")).to eq([[3], [], [1], [], [], []])
  end

  it "are none where two sources only have the same name" do
    expect(partners("Voice", "Voice", "Top", "Bottom")).to eq([[], [], [], []])
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/agreement"

# The product's reading of any show, and a second one of the spec's own; bench/models.rb holds hundreds.
RSpec.describe "Two readings of a show" do
  # 100: a swing back was refused where a block was out of line; 179: a second set that was heard already was written over.
  [1, 3, 100, 179].each { |seed| it("agree on joins, ways, listeners, channels and swings of random shows (seed #{seed})") { expect(Agreement.faults(seed, places: 30)).to eq([]) } }

  it "tell a model from one that is wrong" do
    file = RandomShows.new(3).file
    wrong = JSON.parse(JSON.generate(file)).tap { |data| data["cables"].first["lanes"] = 1 }
    right, other = [file, wrong].map { |data| PlainModel.new(JSON.parse(JSON.generate(data))) }
    expect(right.joins.size).to be > other.joins.size
  end
end

# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Capture::DeviceTerms do
  def terms(rate_hz, block_frames, lanes_in = 32) = described_class.new(rate_hz: rate_hz, block_frames: block_frames, lanes_in: lanes_in)

  it "says what another block costs and saves, either way" do
    expect(terms(48_000, 256).says(now: terms(48_000, 1024), sides: 12)).to eq([
      "Blocks of 5.3 ms, 188 a second: what plays is heard about 21 ms after it was asked for.",
      "That is 64 ms sooner than now, at 4 times as many blocks a second: more work, and less room before one is lost.",
      "12 armed take 1.7 MB a second on disk."
    ])
    expect(terms(48_000, 1024).says(now: terms(48_000, 256), sides: 0)[1]).to eq("That is 64 ms later than now, at 25 % as many blocks a second: less work, and more room before one is lost.")
  end

  it "says what another rate takes on disk, and nothing of what stays" do
    expect(terms(96_000, 2048).says(now: terms(48_000, 1024), sides: 32)).to eq([
      "Blocks of 21.3 ms, 47 a second: what plays is heard about 85 ms after it was asked for.",
      "32 armed take 9.2 MB a second on disk, 2 times what they take now."
    ])
    expect(terms(48_000, 1024).says(now: nil, sides: 0).size).to eq(1)
  end

  it "warns of a two-lane mode, of too few lanes and of another rate, and of nothing where the plan fits" do
    expect(terms(48_000, 256, 2).warns(plan_lanes: [1, 2, 32], show_rate_hz: 48_000)).to match([/shows 2 lanes; the plan comes on lanes up to 32: it is in its two-lane mode/])
    expect(terms(44_100, 256, 16).warns(plan_lanes: [17], show_rate_hz: 48_000)).to match([/gives 16 lanes; the plan comes on lanes up to 17/, /planned at 48.0 kHz/])
    expect(terms(48_000, 256, 32).warns(plan_lanes: [32], show_rate_hz: 48_000)).to eq([])
    expect(terms(48_000, 256, 2).warns(plan_lanes: [], show_rate_hz: 48_000)).to eq([])
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/sound_findings"

# Properties over random shows; bench/checks.rb runs thousands.
RSpec.describe "Findings of any show" do
  # Every third show is made at random altogether.
  [2, 4, 9].each do |seed|
    it("have keys of their own, hang on no order, and mend what they say (seed #{seed})") { expect(SoundFindings.faults(seed)).to eq([]) }
  end
end

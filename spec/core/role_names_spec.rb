# frozen_string_literal: true

require "core_helper"

# Which words people use for their stems is common practice.
RSpec.describe Loomshuttle::Words::RoleNames do
  {"01 Click.wav" => "click", "KICK_in.wav" => "drums", "Bass DI.flac" => "bass", "El. GTR left.wav" => "guitar", "Rhodes.mp3" => "keys", "BV oohs.wav" => "choir",
   "Lead Vox (comp).wav" => "vocals", "SFX rain.wav" => "effects", "Full mix.wav" => "mix", "Guide voc.wav" => "cue",
   "Hurdy-gurdy.wav" => "hurdy-gurdy", "12 - .wav" => "stem"}.each do |file, role|
    it("takes #{file} for #{role}") { expect(described_class.guess(file, [])).to eq(role) }
  end

  it "prefers a role of the library whose whole name stands in it" do
    expect(described_class.guess("03 Marsh organ low.wav", %w[organ marsh-organ tide])).to eq("marsh-organ")
    expect(described_class.guess("Organism.wav", %w[organ])).to eq("organism")
  end

  it "writes any name as a role is written" do
    expect(["Lead Vox!", "é" * 80, "--", "ÄÖ 1"].map { |name| described_class.of(name) }).to eq(["lead-vox", "e" * 60, "stem", "ao-1"])
  end
end

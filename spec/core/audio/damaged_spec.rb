# frozen_string_literal: true

require "core_helper"
require "support/damaged_wav"
require "timeout"

RSpec.describe "Damaged files" do
  # What a file does to whoever looks at it, and what it says then; a hang is a failure, not a wait.
  def outcome(bytes)
    Timeout.timeout(20) do
      JSON.generate(Loomshuttle::Audio::Inspection.of(StringIO.new(bytes), "damaged.wav"))
      :read
    end
  rescue Loomshuttle::Audio::Wav::Malformed => e
    (JSON.generate(e.to_h) && e.message.count("\n").zero?) ? :refused : :odd
  end

  def mended(bytes)
    io = StringIO.new(bytes.dup)
    Loomshuttle::Audio::Wav::Mend.new(io).call
    Loomshuttle::Audio::Wav::Reader.new(io).warnings.grep(/beyond|cut|size/)
  rescue Loomshuttle::Audio::Wav::Malformed
    []
  end

  it "are read or refused in one line, whichever field is wrong and wherever they are cut" do
    outcomes = Hash.new { |all, key| all[key] = [] }
    DamagedWav.each { |name, bytes| outcomes[outcome(bytes)] << name }
    expect(outcomes.keys).to match_array(%i[read refused])
    expect(outcomes.values.sum(&:size)).to be >= 1500
    expect(outcomes[:read].size).to be > 500
  end

  it "that can be read after they were mended hold whole frames to their end" do
    left = {}
    DamagedWav.each { |name, bytes| mended(bytes).then { |warnings| left[name] = warnings if warnings.any? } }
    expect(left).to eq({})
  end
end

# frozen_string_literal: true

require "core_helper"
require "tmpdir"
require_relative "../../boot/deck"

RSpec.describe Loomshuttle::Files::WavWriter do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  # Louder than full scale now and then.
  def sound(from, count) = Numo::SFloat[1.0, 0.3, 1.1].reshape(3, 1) * Numo::NMath.sin((Numo::DFloat.new(count).seq + from) * 0.01)

  def written(name, frames, **more)
    writers = [described_class.new(File.join(@folder, "#{name}-one.wav"), rate_hz: 48_000, names: %w[a], frames: frames, markers: [{frame: 7, label: "verse"}]),
      described_class.new(File.join(@folder, "#{name}-two.wav"), rate_hz: 48_000, names: %w[b c], frames: frames)]
    overs = described_class.write_all(writers, frames: frames, **more) { |from, count| sound(from, count) }
    [overs, writers.map { |writer| File.binread(writer.path) }]
  end

  it "writes the same files by several processes as by one, in any length" do
    [0, 1, 65_536, 8 * 65_536, 8 * 65_536 + 1, 1_700_001].each do |frames|
      one, two = written("one", frames), written("two", frames, processes: 3)
      expect([frames, one == two, one.first]).to eq([frames, true, [0, 0, frames.zero? ? 0 : (0...frames).count { |at| (Math.sin(at * 0.01) * 1.1).abs > 1.0 }]])
    end
  end

  it "leaves nothing behind where a process fails" do
    writer = described_class.new(File.join(@folder, "x.wav"), rate_hz: 48_000, names: %w[a], frames: 2_000_000)
    expect { described_class.write_all([writer], frames: 2_000_000, processes: 2) { |from, count| from.zero? ? Numo::SFloat.zeros(1, count) : raise(Errno::EIO) } }.to raise_error(Errno::EIO)
    expect(Dir.children(@folder)).to eq([])
  end
end

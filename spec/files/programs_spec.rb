# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require "tmpdir"
require_relative "../../boot/deck"

# A song as the server asks for it, from real files, rendered as the deck does.
RSpec.describe Loomshuttle::Files::Programs do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  let(:samples) { Array.new(200_000) { |n| ((n * 7919) % 20_000) - 10_000 } }
  let(:tempo) { Loomshuttle::Music::TempoMap.of(bpm: 127) }

  def request(**more)
    FileUtils.mkdir_p(File.join(@folder, "songs/a"))
    File.binwrite(File.join(@folder, "songs/a/one.wav"), WavFiles.pcm16(samples))
    JSON.parse(JSON.generate({label: "A", rate_hz: 48_000, voices: [{key: "organ/0", pieces: [{path: "songs/a/one.wav", at: 90_709}], lanes: [1]}],
                              click: {tempo: tempo.to_data, style: {count_in_bars: 1, subdivide: 2}, rate_hz: 48_000, to_bar: 4, at: 0,
                                      frames: 290_709, lane: 3}, bars: {tempo: tempo.to_data, at: 90_709}, **more}))
  end

  it "counts in, and has stems and click side by side, to the sample" do
    program = described_class.new(@folder).build(request)
    click = Loomshuttle::Music::Click.new(tempo, Loomshuttle::Music::Click::Style.new(count_in_bars: 1, subdivide: 2), rate_hz: 48_000, to_bar: 4)
    out = Loomshuttle::Render::Renderer.new(lanes: 3).block(program, 0, program.length_frames)
    expect([program.length_frames, click.bar_1_frame]).to eq([290_709, 90_709])
    stem = Numo::SFloat.zeros(290_709)
    stem[90_709..] = Numo::SFloat.cast(samples) / 32_768
    expect([out[0, true] == stem, out[1, true].ne(0).count, out[2, true] == click.render(0, 290_709)]).to eq([true, 0, true])
  end

  it "knows which bar and beat sounds, in the count-in too" do
    program = described_class.new(@folder).build(request)
    expect([0, 22_677, 22_678, 90_708, 90_709, 90_709 + 22_678, 90_709 * 2].map { |position| program.place(position) })
      .to eq([[0, 1, 4], [0, 1, 4], [0, 2, 4], [0, 4, 4], [1, 1, 4], [1, 2, 4], [2, 1, 4]])
  end

  it "knows where the next beat and bar begin, from any place, and from the last frame before" do
    bars = described_class.new(@folder).build(request).bars
    expect([0, 22_677, 22_678, 90_708, 90_709].map { |position| bars.next_beat(position, 48_000) }).to eq([22_678, 22_678, 45_355, 90_709, 113_386])
    expect([0, 90_708, 90_709, 200_000].map { |position| bars.next_bar(position, 48_000) }).to eq([90_709, 90_709, 181_418, 272_126])
  end

  it "refuses a map that says nothing and leaves no file open" do
    bad = request(click: {tempo: {meters: [{bar: 1, meter: "4/3"}], tempi: [{bar: 1, bpm: 100}]}, rate_hz: 48_000, to_bar: 2, at: 0, frames: 10, lane: 1})
    before = Dir.children("/proc/self/fd").size
    expect { described_class.new(@folder).build(bad) }.to raise_error(Loomshuttle::BadInput, /meter/)
    expect(Dir.children("/proc/self/fd").size).to be <= before
  end
end

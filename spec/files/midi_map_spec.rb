# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/files"

RSpec.describe Loomshuttle::Files::MidiMap do
  # Standard MIDI File 1.0: events as bytes, made here from the specification (from memory), without the library.
  def variable(value) = value.digits(128).each_with_index.map { |digit, at| at.zero? ? digit : digit | 0x80 }.reverse.pack("C*")
  def smf(*tracks, division: 96, format: 1) = ["MThd", 6, format, tracks.size, division].pack("a4Nnnn") + tracks.map { |events| ["MTrk", events.join.bytesize].pack("a4N") + events.join }.join
  def tempo(delta, us) = variable(delta) + "\xFF\x51\x03".b + [us].pack("N")[1..]
  def meter(delta, beats, power) = variable(delta) + "\xFF\x58\x04".b + [beats, power, 24, 8].pack("C4")
  def marker(delta, text) = variable(delta) + "\xFF\x06".b + variable(text.bytesize) + text.b
  def ending(delta = 0) = variable(delta) + "\xFF\x2F\x00".b

  def read(bytes) = described_class.read(bytes, "song.mid")

  it "writes quantities of variable length as the specification's examples have them" do
    {0x40 => "40", 0x7F => "7F", 0x80 => "8100", 0x2000 => "C000", 0x3FFF => "FF7F", 0x4000 => "818000", 0x1FFFFF => "FFFF7F", 0x0FFFFFFF => "FFFFFF7F"}.each do |value, hex|
      expect(variable(value).unpack1("H*").upcase).to eq(hex)
    end
  end

  it "reads tempi, time signatures and markers of all tracks, and where the last event lies" do
    found = read(smf([meter(0, 4, 2), tempo(0, 500_000), meter(768, 6, 3), tempo(0, 472_441), ending], [marker(384, "Verse"), marker(384, "Grün"), ending(288)]))
    expect(found.map.meters.map { |bar, one| [bar, one.to_s] }).to eq([[1, "4/4"], [3, "6/8"]])
    expect(found.map.tempi.map { |one| [one.bar, one.bpm] }).to eq([[1, 120], [3, Rational(60_000_000, 472_441)]])
    expect([found.markers, found.end_quarters, found.map.bar_start(4)]).to eq([[[4, "Verse"], [8, "Grün"]], 11, 11])
  end

  it "is 120 in 4/4 where a file says nothing, and takes tempi within a bar as they are" do
    found = read(smf([tempo(48, 400_000), tempo(960, 600_000), ending]))
    expect(found.map.meters.first.last.to_s).to eq("4/4")
    expect(found.map.tempi.map { |one| [one.bar, one.quarters, one.bpm] }).to eq([[1, 0, 120], [1, 1/2r, 150], [3, 5/2r, 100]])
    expect(found.map.seconds(21/2r)).to eq(1/4r + 10 * 2/5r)
  end

  it "writes what it reads back the same, to the microsecond a quarter that the format has" do
    map = Loomshuttle::Music::TempoMap.from_h("meters" => [{"bar" => 1, "meter" => "4/4"}, {"bar" => 5, "meter" => "7/8"}],
      "tempi" => [{"bar" => 1, "bpm" => 127}, {"bar" => 3, "bpm" => 90, "ramp" => true}, {"bar" => 5, "bpm" => 140.5}])
    bytes = described_class.write(map, markers: [[16r, "Chorus"]])
    found = read(bytes)
    expect(bytes.byteslice(0, 14).unpack("a4Nnnn").values_at(0, 1)).to eq(["MThd", 6])
    expect(found.map.meters).to eq(map.meters)
    expect(found.markers).to eq([[16, "Chorus"]])
    (0..60).each { |quarters| expect(found.map.seconds(quarters)).to be_within(quarters * Rational(1, 1_000_000)).of(map.seconds(quarters)) }
    # 127 bpm are 472,440.94 microseconds a quarter.
    expect(bytes).to include("\xFF\x51\x03\x07\x35\x79".b)
  end

  {"what is none" => ["RIFF....WAVE", /Standard MIDI File/], "nothing" => ["", /Standard MIDI File/],
   "one that is cut off" => [:cut, /whole/], "one that counts frames of a time code" => [:frames, /ticks of a quarter/],
   "a time signature within a bar" => [:within, /change at a bar/]}.each do |name, (bytes, words)|
    it "refuses #{name}" do
      made = {cut: smf([tempo(0, 500_000), ending])[0...20], frames: smf([ending], division: 0xE728), within: smf([meter(0, 4, 2), meter(96, 3, 2), ending])}.fetch(bytes, bytes)
      expect { read(made) }.to raise_error(Loomshuttle::BadInput, words)
    end
  end

  it "never fails in another way, whatever bytes are turned" do
    random = Random.new(3)
    good = smf([meter(0, 4, 2), tempo(0, 500_000), marker(96, "x" * 40), tempo(960, 300_000), ending])
    outcomes = Array.new(300) do
      bytes = good.dup
      random.rand(1..5).times { bytes.setbyte(random.rand(bytes.bytesize), random.rand(256)) }
      read(bytes[0, random.rand(10..bytes.bytesize)]) && :read
    rescue Loomshuttle::BadInput
      :refused
    end
    expect(outcomes.tally.keys).to match_array(%i[read refused])
  end
end

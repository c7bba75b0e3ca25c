# frozen_string_literal: true

require "core_helper"

RSpec.describe Loomshuttle::Exchange::SentList do
  let(:codec) { Loomshuttle::Shelf.show_file }

  def read(title, bytes) = described_class.read(title, bytes, codec)

  it "reads what others call their channels, in any order of columns, with or without numbers, from any spreadsheet" do
    expect(read("in.csv", "Ch;Input name;Mic\r\n01;Kick in;d\r\n12;Snare top;s\r\n13;;\r\n")).to eq(1 => "Kick in", 12 => "Snare top")
    expect(read("in.csv", "name\nKick\nSnare\n")).to eq(1 => "Kick", 2 => "Snare")
    expect(read("in.TSV", "\xFF\xFE".b + "Name\tNo\nGrün\t7\n".encode("UTF-16LE").b)).to eq(7 => "Grün")
  end

  it "reads the tracks of a show file, or its rows where it has no tracks" do
    show = codec.parse(File.read("demo/lanterns.loom.json"))
    text = Loomshuttle::Exchange::ShowFile.write(show)
    expect(read("theirs.loom.json", text)).to eq(show.tracks.values.to_h { |track| [track.number, track.name] })
    bare = Loomshuttle::Exchange::ShowFile.write(show.with(tracks: {}.freeze))
    expect(read("theirs.loom.json", bare)).to eq(show.rows.values.to_h { |row| [row.number, row.name] })
  end

  it "says what is wrong with one that is none" do
    expect { read("in.csv", "Kick,Snare\n1,2\n") }.to raise_error(Loomshuttle::BadInput, /Kick, Snare.*one of them: name/)
    expect { read("x.json", "[]") }.to raise_error(Loomshuttle::BadInput)
  end
end

# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/server"

RSpec.describe Loomshuttle::Server::SongWishes do
  # A library that counts what it is asked.
  let(:songs) do
    Class.new {
      attr_reader :asked

      def folders(ids) = note(:folders) { ids.to_h { |id| [id, "#{id}-folder"] } }
      def folder(id) = note(:folder) { "#{id}-folder" }
      def summary(id) = note(:summary) { raise Loomshuttle::BadInput.new(field: "song", value: id, allowed: "a song of the library") }
      def note(what) = yield.tap { (@asked ||= []) << what }
    }.new
  end
  let(:waltz) { show.library["low-tide-waltz"] }
  let(:set) do
    library = (1..40).to_h { |n| ["song-#{n}", waltz.with(id: "song-#{n}", title: "Song #{n}")] }
    show.with(library: library, set_list: library.keys.to_h { |id| [id, Loomshuttle::Show::Listed.new(song: id, after: "on", trim_db: -2.0)] })
  end

  it "asks the library once for all that follows, however long the set and many its stems" do
    behind = described_class.new(songs).behind(set, "song-3")
    expect([behind.size, behind.first.slice(:label, :key, :after, :onward), songs.asked]).to eq([37, {label: "Song 4", key: "song/song-4", after: "on", onward: true}, [:folders]])
    voices = behind.last[:voices].map { |voice| [voice[:pieces].first[:path], voice[:gain_db]] }
    expect(voices).to eq(["marsh organ.wav", "tide drum.wav"].map { |file| ["songs/song-40-folder/#{file}", -2.0] })
    expect(described_class.new(songs).behind(set, "song-40")).to eq([])
  end

  it "says of one that cannot be played why, and lets the others be" do
    lost = set.with(set_list: set.set_list.merge("song-2" => Loomshuttle::Show::Listed.new(song: "song-2", arrangement: "Long")))
    behind = described_class.new(songs).behind(lost, "song-1")
    expect(behind.first).to include(key: "song/song-2", fault: include(field: "arrangement", value: "Long"))
    expect(behind.drop(1)).to all(include(voices: be_any))
    expect { described_class.new(songs).of(lost, "song-2") }.to raise_error(Loomshuttle::BadInput, /arrangement: "Long"/)
  end
end

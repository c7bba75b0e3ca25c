# frozen_string_literal: true

require "core_helper"
require_relative "../../boot/server"

RSpec.describe Loomshuttle::Server::SetFollower do
  let(:waltz) { show.library["low-tide-waltz"] }
  let(:set) do
    library = %w[one two three].to_h { |id| [id, waltz.with(id: id, title: id.capitalize)] }
    show.with(library: library, set_list: library.keys.to_h { |id| [id, Loomshuttle::Show::Listed.new(song: id)] })
  end
  let(:wishes) do
    songs = Struct.new(:none) do
      def folder(id) = id
      def folders(ids) = ids.to_h { |id| [id, id] }
      def summary(id) = raise(Loomshuttle::BadInput.new(field: "song", value: id, allowed: "a song"))
    end
    Loomshuttle::Server::SongWishes.new(songs.new)
  end

  # What the deck is told, of what it says of itself.
  def told(**state)
    deck = Struct.new(:state, :asked) do
      def ask(wish) = (wish[:do] == "status") ? state : asked << wish
    end
    line = deck.new(JSON.parse(JSON.generate(state)), [])
    follower = described_class.new(line, wishes: wishes, workspaces: {1 => Struct.new(:show).new(set)}, on_air: Struct.new(:show_id).new(1))
    follower.send(:tell)
    line.asked.first&.then { |wish| [wish[:behind], wish[:queue].map { |one| one[:key] }, wish.dig(:standing, :key)] }
  end

  it "tells what comes behind what plays, what stands ready as it is now, and what is waited for" do
    expect(told(playing: {key: "song/one", onward: true}, next: {key: "song/two"})).to eq(["song/one", %w[song/two song/three], nil])
    expect(told(playing: {key: "song/two", onward: true, paused: true}, next: nil)).to eq(["song/two", %w[song/three], "song/two"])
    expect(told(playing: nil, next: {key: "song/two", in_s: 4.2})).to eq([nil, %w[song/two song/three], nil])
    [{playing: nil, next: nil}, {playing: {key: "song/one", onward: false}, next: nil}, {playing: {key: "take/3", onward: true}, next: nil}, {playing: {key: "song/gone", onward: true}, next: nil}].each do |state|
      expect(told(**state)).to be_nil
    end
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/throw_away_database"
require "support/random_edits"
require_relative "../../boot/server"

# What is kept, over a real PostgreSQL and without a web server.
RSpec.describe Loomshuttle::Server::Store do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    services = Loomshuttle::Services.new(data: @folder)
    @server = ThrowAwayDatabase.new(@folder, port: services.ports["postgres"]).start
    @database = described_class::Database.connect(services.database_url)
  end

  after(:all) do
    @database.disconnect
    @server.stop
    @server.remove
    FileUtils.rm_rf(@folder)
  end

  let(:codec) { Loomshuttle::Exchange::ShowFile.new(schema: Loomshuttle::Shelf.show_schema, profiles: Loomshuttle::Shelf.profiles) }
  let(:shows) { Loomshuttle::Server::Store::Shows.new(@database, codec) }
  let(:history) { Loomshuttle::Server::Store::History.new(@database) }
  let(:id) { shows.create(show) }
  let(:tablet) { author("Ilse", "tablet") }
  let(:laptop) { author("", "laptop") }

  def author(who, client) = Loomshuttle::Server::Store::History::Author.new(who: who, client: client)
  def rename(row, name) = edit("rename", id: "list/row/#{row}", name: name)

  # One edit as the server makes it: show and history in one transaction.
  def make(one, by, label: "Rename", version: nil)
    shows.change(id, version) do |before, now|
      after = one.apply(before)
      next after if after.is_a?(Loomshuttle::Refusal)

      history.remember(id, by, now + 1, label, one, one.inverse(before), Loomshuttle::Show::Parts.touched(before, after))
      after
    end
  end

  describe Loomshuttle::Server::Store::Database do
    it "brings tables up to date once, also when several processes find an empty database at the same time" do
      @database.run("CREATE DATABASE empty")
      url = @database.uri.sub(/loomshuttle\z/, "empty")
      connections = Array.new(4) { Thread.new { described_class.connect(url) } }.map(&:value)
      expect(connections.map { |one| one[:migrations].select_order_map(:name) }.uniq).to eq([Dir.children(File.join(Loomshuttle::Services::ROOT, "db")).sort])
      expect(connections.last[:shows].count).to eq(0)
    ensure
      connections&.each(&:disconnect)
    end
  end

  describe Loomshuttle::Server::Store::Shows do
    it "gives back what it was given, from another process too" do
      expect(shows.load(id)).to have_attributes(version: 1, show: show)
      expect(described_class.new(@database, codec).load(id).show).to eq(show)
    end

    it "says which show is not there" do
      expect { shows.load(0) }.to raise_error(Loomshuttle::BadInput, /show.*0.*a show that is there/)
    end

    it "refuses a change made for an older version, and says which" do
      make(rename(1, "Drone"), laptop)
      expect { make(rename(2, "Bass"), laptop, version: 1) }.to raise_error(described_class::Outdated, "the show is at version 2 by now, the change was made for 1")
      expect(shows.load(id).show.rows["list/row/2"].name).to eq(show.rows["list/row/2"].name)
    end

    it "leaves all as it was when an edit is refused or fails half-way" do
      expect(make(rename(99, "Nobody"), laptop)).to be_a(Loomshuttle::Refusal)
      failing = -> { shows.change(id, nil) { |before, now| history.remember(id, laptop, now + 1, "x", rename(1, "x"), rename(1, "x"), []) && raise("out of breath") && before } }
      expect(&failing).to raise_error("out of breath")
      expect([shows.load(id).version, history.list(id, laptop)]).to eq([1, []])
    end

    it "sees at once what another process changed" do
      other = described_class.new(@database, codec)
      shows.load(id)
      other.change(id, 1) { |before, _| rename(1, "Drone").apply(before) }
      expect(shows.load(id)).to have_attributes(version: 2)
      make(rename(2, "Bass"), laptop, version: 2)
      expect(other.load(id).show.rows.values_at("list/row/1", "list/row/2").map(&:name)).to eq(%w[Drone Bass])
    end

    it "puts edits of many at once in one order, each on what came before it" do
      random = RandomEdits.new(3)
      edits = Array.new(4) { Array.new(12) { random.next } }
      edits.map.with_index { |own, n|
        Thread.new do
          own.each { |data|
            begin
              Loomshuttle::Edits.from_h(data).then { |one| make(one, author("", "browser #{n}")) }
            rescue
              Loomshuttle::BadInput
            end
          }
        end
      }.each(&:join)
      made = @database[:edits].where(show_id: id).order(:version).select_map(%i[version edit])
      expect(made.map(&:first)).to eq((2..(made.size + 1)).to_a)
      replayed = made.reduce(show) { |now, (_, data)| Loomshuttle::Edits.from_h(JSON.parse(JSON.generate(data))).apply(now) }
      expect(described_class.new(@database, codec).load(id)).to have_attributes(version: made.size + 1, show: replayed)
    end
  end

  describe Loomshuttle::Server::Store::History do
    it "gives each browser its own, newest first to undo, oldest first to do again" do
      make(rename(1, "A"), tablet, label: "One")
      make(rename(2, "B"), laptop, label: "Two")
      make(rename(3, "C"), tablet, label: "Three")
      expect([history.label_done(id, tablet), history.label_done(id, laptop), history.label_undone(id, tablet)]).to eq(["Three", "Two", nil])
      2.times { history.mark(history.last_done(id, tablet)[:id], true, 9) }
      undone = history.last_undone(id, tablet)
      expect(undone).to include(label: "One", edit: rename(1, "A"), touched: ["rows/list/row/1"])
      expect(undone[:inverse].apply(shows.load(id).show).rows["list/row/1"]).to eq(show.rows["list/row/1"])
      expect([history.label_done(id, tablet), history.label_done(id, laptop)]).to eq([nil, "Two"])
    end

    it "forgets what a browser had undone when that one goes on, and only that one's" do
      make(rename(1, "A"), tablet, label: "One")
      make(rename(2, "B"), laptop, label: "Two")
      [tablet, laptop].each { |by| history.mark(history.last_done(id, by)[:id], true, 4) }
      make(rename(3, "C"), tablet, label: "Three")
      expect([history.label_undone(id, tablet), history.label_undone(id, laptop)]).to eq([nil, "Two"])
    end

    it "knows what another browser has built on, and who" do
      make(rename(1, "A"), tablet, label: "One")
      mine = history.last_done(id, tablet)
      make(rename(2, "B"), laptop, label: "Elsewhere")
      make(rename(1, "C"), tablet, label: "Mine again")
      expect(history.built_on(id, tablet, mine)).to be_nil
      make(rename(1, "D"), author("Ilse", "phone"), label: "On top")
      expect(history.built_on(id, tablet, mine)).to include(label: "On top", who: "Ilse")
      history.mark(history.last_done(id, author("Ilse", "phone"))[:id], true, 9)
      expect(history.built_on(id, tablet, mine)).to be_nil
    end

    it "tells what others did since a version, and lists all with whose it is" do
      make(rename(1, "A"), tablet, label: "One")
      make(rename(2, "B"), laptop, label: "Two")
      expect(history.since(id, laptop, 1).map { |one| one[:label] }).to eq(["One"])
      expect(history.since(id, tablet, 2).map { |one| one[:label] }).to eq(["Two"])
      expect(history.list(id, tablet).map { |one| one.values_at(:label, :who, :mine, :undone) }).to eq([["Two", "", false, false], ["One", "Ilse", true, false]])
      history.forget(id)
      expect(history.list(id, tablet)).to eq([])
    end
  end

  describe Loomshuttle::Server::Store::Templates do
    it "keeps one of each name, finds it again, and says which is not there" do
      templates = described_class.new(@database, codec)
      bare = Loomshuttle::Exchange::Template.of(show)
      2.times { templates.keep("Hall", bare) }
      kept = templates.list.find { |one| one[:name] == "Hall" }
      expect(templates.find(kept[:id])).to eq(bare)
      templates.delete(kept[:id])
      expect { templates.find(kept[:id]) }.to raise_error(Loomshuttle::BadInput, /template.*a template that is there/)
    end
  end

  describe Loomshuttle::Server::Store::Takes do
    let(:takes) { described_class.new(@database) }

    def take(number, **more)
      {show_id: id, number: number, folder: "night-#{id}/take-#{number}", name: "Take #{number}", origin: "recorded", sample_rate_hz: 48_000, state: "recording"}.merge(more)
    end

    it "numbers takes by show, newest first, each with its files in the order of tracks" do
      files = [2, 1].map { |n| {track: "rec/track/#{n}", file: "0#{n}.wav", channel: 1, name: "Lane #{n}"} }
      first = takes.create(take(takes.next_number(id)), files)
      takes.create(take(takes.next_number(id)), [])
      expect(takes.of_show(id).map { |one| [one[:number], one[:files].map { |file| file[:track] }] }).to eq([[2, []], [1, %w[rec/track/1 rec/track/2]]])
      takes.close(first, frames: 480, reason: "stopped by hand")
      expect(takes.find(id, first)).to include(state: "closed", frames: 480, reason: "stopped by hand")
      expect { takes.find(id, 0) }.to raise_error(Loomshuttle::BadInput, /take.*a take of this show/)
    end

    it "keeps no take whose files cannot be kept" do
      twice = Array.new(2) { {track: "rec/track/1", file: "01.wav", channel: 1, name: "Lane 1"} }
      expect { takes.create(take(1), twice) }.to raise_error(Sequel::UniqueConstraintViolation)
      expect(takes.of_show(id)).to eq([])
    end
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/throw_away_database"
require "support/random_edits"
require "timeout"
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

  let(:codec) { Loomshuttle::Shelf.show_file }
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

      history.remember(id, by, now + 1, label, one, before, after)
      after
    end
  end

  describe Loomshuttle::Server::Store::Database do
    it "brings tables up to date once, also when several processes find an empty database at the same time" do
      @server.cluster.admin("CREATE DATABASE empty OWNER #{Loomshuttle::Cluster::OWN}")
      url = @database.uri.sub(/loomshuttle\z/, "empty")
      connections = Array.new(4) { Thread.new { described_class.connect(url) } }.map(&:value)
      expect(connections.map { |one| one[:schema_info].select_map(:version) }.uniq).to eq([[Dir.children(File.join(Loomshuttle::Services::ROOT, "db")).size]])
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
      failing = -> {
        shows.change(id, nil) { |before, now|
          history.remember(id, laptop, now + 1, "x", rename(1, "x"), before, rename(1, "x").apply(before)) && raise("out of breath") && before
        }
      }
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
      edits = Array.new(4) { Array.new(60) { random.next } }
      edits.map.with_index { |own, n|
        Thread.new do
          own.each { |data|
            begin
              Loomshuttle::Edits.from_h(data).then { |one| make(one, author("", "browser #{n}")) }
            rescue Loomshuttle::BadInput
              # What another one took out meanwhile is refused.
            end
          }
        end
      }.each(&:join)
      made = @database[:edits].where(show_id: id).order(:version).select_map(%i[version edit])
      expect(made.size).to be > 12
      expect(made.map(&:first)).to eq((2..(made.size + 1)).to_a)
      replayed = made.reduce(show) { |now, (_, data)| Loomshuttle::Edits.from_h(JSON.parse(JSON.generate(data))).apply(now) }
      # Songs and roles are the library's, and read from there.
      own = ->(one) { Loomshuttle::Exchange::ShowFile.data(one).except(:songs, :roles) }
      loaded = described_class.new(@database, codec).load(id)
      expect([loaded.version, own[loaded.show]]).to eq([made.size + 1, own[replayed]])
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
      expect(undone).to include(label: "One", touched: ["rows/list/row/1", "tracks/rec/track/1"])
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

    # B12.
    it "takes nothing back that somebody else has done again since" do
      make(rename(1, "A"), tablet, label: "One")
      history.mark(history.last_done(id, tablet)[:id], true, 3)
      make(rename(1, "B"), laptop, label: "Two")
      history.mark(history.last_done(id, laptop)[:id], true, 5)
      history.mark(history.last_undone(id, tablet)[:id], false, 6)
      expect(history.built_on(id, laptop, history.last_undone(id, laptop))).to include(label: "One")
    end

    it "puts back what was done, whatever the same command would do by now" do
      make(edit("scene", name: "Afternoon"), laptop)
      make(edit("power", sockets: ["box-a/mic/4"]), laptop)
      make(edit("recall", scene: "Afternoon"), laptop, label: "Recall")
      recalled = shows.load(id).show
      entry = history.last_done(id, laptop)
      shows.change(id, nil) { |before, _| entry[:inverse].apply(before) }
      history.mark(entry[:id], true, 9)
      shows.change(id, nil) { |before, _| edit("scene", name: "Afternoon").apply(before) }
      expect(history.last_undone(id, laptop)[:redo].apply(shows.load(id).show).patch).to eq(recalled.patch)
    end

    it "tells what others did since a version, and lists all with whose it is" do
      make(rename(1, "A"), tablet, label: "One")
      make(rename(2, "B"), laptop, label: "Two")
      expect(history.since(id, laptop, 1).map { |one| one[:label] }).to eq(["One"])
      expect(history.since(id, tablet, 2).map { |one| one[:label] }).to eq(["Two"])
      expect(history.list(id, tablet).map { |one| one.values_at(:label, :who, :mine, :undone) }).to eq([["Two", "", false, false], ["One", "Ilse", true, false]])
      expect(history.list(id, tablet, from: 1).map { |one| one[:label] }).to eq(["One"])
    end

    it "notes what no undo takes back" do
      make(rename(1, "A"), laptop, label: "One")
      history.note(id, laptop, 2, "Put on air")
      expect([history.list(id, laptop).map { |one| one[:label] }, history.label_done(id, laptop)]).to eq([["Put on air", "One"], "One"])
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
      {show_id: id, number: number, uid: "#{id}-#{number}", folder: "night-#{id}/take-#{number}", name: "Take #{number}", origin: "recorded", sample_rate_hz: 48_000,
       state: "recording"}.merge(more)
    end

    it "numbers takes by show, newest first, each with its files in the order of tracks" do
      files = [2, 1].map { |n| {track: "rec/track/#{n}", file: "0#{n}.wav", channel: 1, name: "Lane #{n}"} }
      first = takes.create(take(takes.next_number(id)), files)
      takes.create(take(takes.next_number(id)), [])
      expect(takes.of_show(id).map { |one| [one[:number], one[:files].map { |file| file[:track] }] }).to eq([[2, []], [1, %w[rec/track/1 rec/track/2]]])
      takes.close(first, reason: "its files are not there any more")
      expect(takes.find(id, first)).to include(state: "closed", reason: "its files are not there any more")
      expect { takes.find(id, 0) }.to raise_error(Loomshuttle::BadInput, /take.*a take of this show/)
    end

    it "keeps no take whose files cannot be kept" do
      twice = Array.new(2) { {track: "rec/track/1", file: "01.wav", channel: 1, name: "Lane 1"} }
      expect { takes.create(take(1), twice) }.to raise_error(Sequel::UniqueConstraintViolation)
      expect(takes.of_show(id)).to eq([])
    end

    # The keeper's thread and whoever pressed Record read a new journal at the same moment.
    it "keeps a take once that two threads found at the same time, and refuses neither" do
      20.times do |round|
        row = take(round + 1, log: Sequel.pg_jsonb({marks: []}))
        barrier = Thread::Queue.new
        both = Array.new(2) { Thread.new { barrier.pop && takes.keep(row, []) } }
        2.times { barrier << true }
        expect(both.map(&:value).compact.uniq).to eq([takes.id_of(row[:uid])])
      end
    end

    it "keeps what a journal says, once, and passes over a number that is taken" do
      row = take(1, frames: 7, reason: nil, log: Sequel.pg_jsonb({marks: []})).except(:made_at)
      files = [{track: "rec/track/1", file: "01.wav", channel: 1, name: "A", part: 1, at_frames: 0, frames: 7, report: {clips: 0}}]
      expect([takes.keep(row, files), takes.keep(row, files)]).to match([Integer, nil])
      expect(takes.keep(row.merge(frames: 9), files)).to be_an(Integer)
      takes.keep(row.merge(uid: "other", folder: "x"), [])
      expect(takes.of_show(id).map { |one| one.values_at(:number, :frames) }).to eq([[2, 7], [1, 9]])
    end
  end

  describe Loomshuttle::Server::Store::Alarms do
    let(:alarms) { described_class.new(@database) }

    it "tells the same thing once, with its newest words, until somebody has seen it" do
      key = "take/#{id}/break"
      raised = Array.new(2) { alarms.raise_alarm(key, about: "take", words: "it broke off", at: "now") }
      expect([*raised, alarms.raise_alarm(key, about: "take", words: "it went on", at: "now")]).to eq([true, false, true])
      mine = -> { alarms.list.find { |one| one[:key] == key } }
      expect(mine.call).to include(words: "it went on", seen_by: nil)
      expect([alarms.see(key, "Ilse", Time.now), alarms.see(key, "Ben", Time.now), mine.call[:seen_by]]).to eq([true, false, "Ilse"])
    end
  end

  # The journals on disk are the truth; the engine only tells when to look.
  describe Loomshuttle::Server::TakesKeeper do
    around { |example| Dir.mktmpdir { |folder| (@takes = folder) && example.run } }

    let(:engine) {
      Struct.new(:connections, :status) {
        def last(_) = status and def answers? = !status.nil? and def ask(**request) = (asked << request) and def asked
                                                                                                               @asked ||= Thread::Queue.new
                                                                                                             end
      }.new(1, {
        "recording" => nil, "last_take" => nil, "faults" => []
      })
    }
    let(:store) { Loomshuttle::Server::Store::Takes.new(@database) }
    let(:alarms) { Loomshuttle::Server::Store::Alarms.new(@database) }

    after { @keeper&.stop }

    def keeper
      @keeper = described_class.new(@takes, takes: store, alarms: alarms, engine: engine, show_of: ->(plan) { plan.show_id }, clock: -> { Time.now }, armed: -> {
        %w[rec/track/1 rec/track/2]
      })
    end

    def journal(number, *more, state: [{what: "closed", reason: "stopped by hand"}])
      folder = File.join(@takes, "night-#{id}/take-#{number}").tap { |path| FileUtils.mkdir_p(path) }
      plan = {uid: "#{id}-#{number}-j", number: number, show_id: id, sample_rate_hz: 48_000, tracks: [{key: "rec/track/1", name: "A", file: "01 A", lanes: [1]}]}
      lines = [{what: "begun", plan: plan, start_frame: 1000, time_reference_samples: 5, started_at: "2026-11-25T20:00:00.000Z"}, {what: "stretch", track: "rec/track/1", part: 1, file: "01 A.wav", from_frame: 1000, time_reference_samples: 5},
        *more, *state]
      File.write(File.join(folder, "take.journal"), lines.map { |line| JSON.generate(line) + "\n" }.join)
    end

    def wait
      Timeout.timeout(60) { sleep 0.02 until yield }
    end

    def take(number) = store.of_show(id).find { |one| one[:number] == number }

    it "makes rows of journals that it has never heard of, and follows them" do
      journal(1, {what: "end", track: "rec/track/1", part: 1, to_frame: 49_000}, {what: "mark", id: "m", frame: 2000, label: "Song"})
      keeper
      wait { take(1) }
      expect(take(1)).to include(state: "closed", frames: 48_000, marks: [include("frame" => 1000, "label" => "Song")],
        files: [include(track: "rec/track/1", frames: 48_000, at_frames: 0)])
      journal(1, {what: "end", track: "rec/track/1", part: 1, to_frame: 97_000})
      engine.status = engine.status.merge("last_take" => {"uid" => "x"})
      wait { take(1)[:frames] == 96_000 }
    end

    it "closes rows that nobody records any more, and raises an alarm for each" do
      store.keep({uid: "#{id}-9-j", show_id: id, number: 9, folder: "night-#{id}/take-9", name: "Take 9", origin: "recorded", sample_rate_hz: 48_000, frames: 0, state: "recording", reason: nil, log: Sequel.pg_jsonb({})}, [])
      journal(2, state: [])
      keeper
      wait { take(9)[:state] == "closed" && take(2)&.fetch(:state) == "closed" }
      expect([take(9)[:reason], take(2)[:reason]]).to eq(["its files are not there any more", "its journal was never closed"])
      expect(alarms.list.map { |alarm| alarm[:words] }).to include(/Take 9 has no end/, /Take 2 has no end/)
    end

    it "leaves a running take as it is, tells of its break and of what the engine tells" do
      journal(3, {what: "end", track: "rec/track/1", part: 1, to_frame: 49_000}, {what: "broken", frame: 49_000, why: "the device went away", at: "2026-11-25T20:00:01Z"},
        state: [])
      recording = {"take" => {"uid" => "#{id}-3-j", "folder" => "night-#{id}/take-3"}, "state" => "waiting", "armed" => [], "marks" => 0, "places" => []}
      engine.status = {"recording" => recording, "last_take" => nil,
"faults" => [{"key" => "engine/#{id}", "about" => "sync", "words" => "Input/output error", "at" => "now"}]}
      keeper
      wait { alarms.list.any? { |alarm| alarm[:key] == "engine/#{id}" } }
      expect(take(3)[:state]).to eq("waiting")
      expect(alarms.list.map { |alarm| alarm[:words] }).to include("Take 3 broke off at 00:00:01: the device went away. It goes on by itself as soon as device and disk are there. On disk: 1 file whole up to there.")
    end

    it "arms in the take that goes on what the show says is armed" do
      journal(5, state: [])
      engine.status = {"recording" => {"take" => {"uid" => "#{id}-5-j", "folder" => "night-#{id}/take-5"}, "state" => "recording", "armed" => [], "marks" => 0, "places" => []},
"last_take" => nil, "faults" => []}
      keeper
      # Track 2 is none of the take's.
      expect(Timeout.timeout(60) { engine.asked.pop }).to eq(do: "arm", tracks: ["rec/track/1"], on: true)
    end

    it "tries again when the database was away" do
      journal(4)
      failing = 2
      allow(store).to receive(:keep).and_wrap_original { |original, *arguments| ((failing -= 1) >= 0) ? raise(Sequel::DatabaseDisconnectError, "away") : original.call(*arguments) }
      expect { keeper && wait { take(4) } }.to output(/takes keeper.*away/m).to_stderr
    end
  end
end

# frozen_string_literal: true

require "core_helper"
require "support/throw_away_database"
require "timeout"
require_relative "../../boot/server"

# Many shows over a real PostgreSQL, and what is told of them between processes.
RSpec.describe "The library of shows" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    services = Loomshuttle::Services.new(data: @folder)
    @server = ThrowAwayDatabase.new(@folder, port: services.ports["postgres"]).start
    @url = services.database_url
    @database = Loomshuttle::Server::Store::Database.connect(@url)
  end

  after(:all) do
    @database.disconnect
    @server.stop
    @server.remove
    FileUtils.rm_rf(@folder)
  end

  let(:store) { Loomshuttle::Server::Store }
  let(:codec) { Loomshuttle::Server::Assembly.codec }
  let(:changes) { Loomshuttle::Server::Changes.new(@database) }
  let(:shows) { store::Shows.new(@database, codec, changes) }
  let(:takes) { store::Takes.new(@database, changes) }
  let(:shelf) { store::Shelf.new(@database, changes) }
  let(:on_air) { store::OnAir.new(@database, changes) }

  def wait
    Timeout.timeout(60) { sleep 0.01 until yield }
  end

  def take(show_id, number, **more)
    {show_id: show_id, number: number, uid: "#{show_id}-#{number}", folder: "#{shows.place(show_id)[:folder]}/take-#{number}", name: "Take #{number}", origin: "recorded",
     sample_rate_hz: 48_000, state: "closed"}.merge(more)
  end

  describe "tables of before" do
    # Made by pg_dump on the last day before shows were many: one show, one edit, one take, a template, how takes
    # are recorded, an alarm.
    let(:dump) { File.read(File.join(__dir__, "../fixtures/database_before_the_library.sql")) }

    def old_database(name)
      @server.cluster.admin("CREATE DATABASE #{name} OWNER #{Loomshuttle::Cluster::OWN}")
      @server.cluster.admin("SET ROLE #{Loomshuttle::Cluster::OWN};\n#{dump}", database: name)
      yield store::Database.connect(@url.sub(/loomshuttle\z/, name))
    end

    it "are brought up to date with all that stood in them" do
      old_database("november") do |old|
        kept = store::Shows.new(old, codec)
        expect([kept.load(1).version, kept.load(1).show.rows["list/row/1"].name, kept.session(1)]).to eq([2, "Drone", {"preroll_s" => 12}])
        expect(kept.place(1)[:folder]).to match(/\Alanterns-over-saltmarsh-\h{8}\z/)
        author = store::History::Author.new(who: "Ilse", client: "tablet")
        expect(store::History.new(old).last_done(1, author)[:inverse].apply(kept.load(1).show).rows["list/row/1"].name).to eq("Hurdy-gurdy")
        listed = store::Shelf.new(old, Loomshuttle::Server::Changes.new(old)).find(1)
        expect(listed).to include(name: "Lanterns over Saltmarsh", takes: 1, bytes: 96_000 * 3, place: "at_hand", findings: nil)
        expect(store::Takes.new(old).of_show(1).first).to include(uid: "old-take-1", marks: [include("label" => "here")])
        expect(store::OnAir.new(old, Loomshuttle::Server::Changes.new(old)).now).to have_attributes(show_id: 1, follows: true)
        expect(store::Templates.new(old, codec).list.map { |one| one[:name] }).to eq(["Barn"])
        expect([old.table_exists?(:migrations), old[:alarms].count]).to eq([false, 1])
      ensure
        old.disconnect
      end
    end

    it "are the same then as tables that were made anew" do
      columns = ->(database) { database[Sequel[:information_schema][:columns]].where(table_schema: "public").order(:table_name, :column_name).select_map(%i[table_name column_name data_type is_nullable is_generated]) }
      old_database("december") do |old|
        expect(columns[old]).to eq(columns[@database])
      ensure
        old.disconnect
      end
    end
  end

  describe Loomshuttle::Server::Store::Shelf do
    it "lists the shows with what is in them, newest change first, found by words of name and venue, in pages" do
      barn = shows.create(show.with(name: "Marsh ball", venue: "Barn 100%", date: "2026-12-31"))
      hall = shows.create(show.with(name: "Tide songs", venue: "Hall", date: "2027-01-06"))
      takes.create(take(barn, 1, bytes: 1_000), [])
      takes.create(take(barn, 2, bytes: 234), [])
      shelf.note_findings(barn, 1, {"stop" => 2, "version" => 1})
      shows.change(barn, nil) { |before, _| before.with(venue: "Barn 100 %") }
      found = ->(**how) { shelf.list(**how).then { |one| [one[:count], one[:shows].map { |row| row[:name] }] } }
      expect(found[search: "barn MARSH"]).to eq([1, ["Marsh ball"]])
      expect(found[search: "100 %"]).to eq([1, ["Marsh ball"]])
      expect(found[search: "2027-01 hall"]).to eq([1, ["Tide songs"]])
      expect([found[search: "a_l"], shelf.list(limit: 1)[:shows].size, shelf.list(limit: 1, from: 1)[:shows].map { |row| row[:id] }]).to eq([[0, []], 1, [hall]])
      expect(shelf.find(barn)).to include(date: "2026-12-31", takes: 2, bytes: 1_234, findings: {"stop" => 2, "warn" => 0, "note" => 0}, version: 2)
      expect(shelf.find(hall)).to include(takes: 0, bytes: 0, findings: nil)
    end

    it "notes what is found at the version that it was found at, and no other" do
      id = shows.create(show)
      expect(shelf.uncounted(100)).to include(id)
      shelf.note_findings(id, 2, {"stop" => 9, "version" => 2})
      expect(shelf.find(id)[:findings]).to be_nil
    end
  end

  describe Loomshuttle::Server::Actions::KeepShows do
    let(:folder) { File.join(@folder, "takes").tap { |path| FileUtils.mkdir_p(path) } }
    let(:keep) do
      described_class.new(shows: shows, shelf: shelf, templates: store::Templates.new(@database, codec), takes: takes, on_air: on_air, codec: codec, takes_folder: folder)
    end
    let(:id) { keep.make({name: "Ball"}, copy: shows.create(show)) }

    def record(show_id, number)
      takes.create(take(show_id, number), [])
      path = File.join(folder, shows.place(show_id)[:folder], "take-#{number}")
      FileUtils.mkdir_p(path)
      File.write(File.join(path, "01 A.wav"), "sound")
      path
    end

    it "makes shows from nothing, from a template, as a copy, and never twice one" do
      nothing = keep.make({name: " New ", venue: "Hall", date: "2026-12-24"})
      expect(shows.load(nothing).show).to have_attributes(name: "New", venue: "Hall", date: "2026-12-24", rows: {})
      expect(shows.load(id).show).to eq(show.with(name: "Ball"))
      store::Templates.new(@database, codec).keep("Barn", Loomshuttle::Exchange::Template.of(show))
      template = @database[:templates].where(name: "Barn").get(:id)
      expect(shows.load(keep.make({name: "From barn"}, template: template)).show.rows["list/row/1"].name).to eq("Input 1")
      file = Loomshuttle::Exchange::ShowFile.write(show)
      expect([keep.read(file), keep.read(file)].map { |made| shows.place(made)[:folder] }.uniq.size).to eq(2)
      expect(keep.make({name: "X", date: "2026-02-30"})).to be_a(Loomshuttle::Refusal).and have_attributes(field: "date")
    end

    it "deletes for good only from the bin and by name, with the takes' files" do
      path = record(id, 1)
      expect { keep.delete(id, "Ball") }.to raise_error(Loomshuttle::BadInput, /a show in the bin/)
      keep.put(id, "bin")
      expect(shelf.find(id)).to include(place: "bin", bin_days_left: 30)
      expect { keep.delete(id, "Bal") }.to raise_error(Loomshuttle::BadInput, /"Ball", the name of the show/)
      keep.delete(id, "Ball")
      expect([File.exist?(path), File.exist?(File.dirname(path)), Dir.exist?(File.join(folder, ".gone"))]).to eq([false, false, false])
      expect { shows.load(id) }.to raise_error(Loomshuttle::BadInput)
      expect(@database[:takes].where(show_id: id).count).to eq(0)
    end

    it "goes on with a deletion that was broken off, and shows nothing of it meanwhile" do
      path = record(id, 1)
      keep.put(id, "bin")
      allow(File).to receive(:rename).and_raise(Errno::EIO)
      expect { keep.delete(id, "Ball") }.to raise_error(Errno::EIO)
      expect { shelf.find(id) }.to raise_error(Loomshuttle::BadInput)
      expect { shows.load(id) }.to raise_error(Loomshuttle::BadInput)
      expect { shows.change(id, nil) { |before, _| before } }.to raise_error(Loomshuttle::BadInput)
      expect(File.exist?(path)).to be(true)
      allow(File).to receive(:rename).and_call_original
      keep.sweep
      expect([File.exist?(path), @database[:shows].where(id: id).count]).to eq([false, 0])
    end

    it "sweeps the bin after thirty days, but nothing that holds takes, and nothing younger" do
      old, recorded, young = Array.new(3) { keep.make({name: "Old"}) }
      record(recorded, 1)
      [old, recorded, young].each { |one| keep.put(one, "bin") }
      @database[:shows].where(id: [old, recorded]).update(binned_at: Time.now - 31 * 86_400)
      keep.sweep
      expect(@database[:shows].where(id: [old, recorded, young]).select_order_map(:id)).to eq([recorded, young])
      expect(shelf.find(recorded)[:bin_days_left]).to eq(0)
      keep.put(recorded, "at_hand")
      expect(shelf.find(recorded)).to include(place: "at_hand", bin_days_left: nil)
    end

    it "leaves the show on air where it is" do
      on_air.put(id, follows: true)
      expect { keep.put(id, "bin") }.to raise_error(Loomshuttle::BadInput, /not on air/)
      expect { keep.put(id, "archived") }.to raise_error(Loomshuttle::BadInput, /not on air/)
      on_air.clear
      keep.put(id, "archived")
      expect([shelf.find(id)[:place], shelf.counts["archived"]]).to eq(["archived", 1])
    end
  end

  describe Loomshuttle::Server::Changes do
    def heard(*topics)
      changes = described_class.new(@database)
      list = Thread::Queue.new
      changes.on(*topics, "probe") { |told, topic| list << [topic, told] }
      changes.listen
      # Until its line stands nothing is heard.
      wait do
        changes.say("probe")
        sleep 0.02
        !list.empty?
      end
      list.clear
      [changes, list]
    end

    it "tells what was kept, in the order of versions, to another process too; never what was not kept" do
      changes, list = heard("show")
      id = shows.create(show)
      threads = Array.new(4) { |n| Thread.new { 10.times { |k| shows.change(id, nil) { |before, _| before.with(venue: "#{n} #{k}") } } } }
      begin
        shows.change(id, nil) { raise "no" }
      rescue
        nil
      end
      threads.each(&:join)
      versions = []
      wait do
        versions << list.pop.then { |topic, told| told[:version] if topic == "show" && told[:id] == id }
        versions.compact.size == 40
      end
      expect(versions.compact).to eq((2..41).to_a)
    ensure
      changes.stop
    end

    it "says that something may have been missed when its line to the database broke" do
      changes, list = heard("missed")
      expect {
        @server.cluster.admin("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query LIKE 'LISTEN%'")
        wait { !list.empty? && list.pop.first == "missed" }
      }.to output(/changes/).to_stderr
    ensure
      changes.stop
    end
  end

  describe Loomshuttle::Server::Store::Lead do
    it "is held by one process, and by another as soon as that is gone" do
      databases = Array.new(2) { store::Database.connect(@url) }
      first = described_class.new(databases[0])
      wait { first.mine? }
      begun = Thread::Queue.new
      second = described_class.new(databases[1]) { begun << true }
      sleep 0.1
      expect([first.mine?, second.mine?]).to eq([true, false])
      first.stop
      databases[0].disconnect
      wait { second.mine? }
      expect([first.mine?, begun.size]).to eq([false, 1])
    ensure
      second&.stop
      databases.each(&:disconnect)
    end
  end

  it "knows of a take which show it is of, by the show's own id, by its number or, of the oldest, by nothing" do
    id = shows.create(show)
    plan = ->(**more) { Loomshuttle::Capture::TakePlan.new(uid: "x", number: 1, sample_rate_hz: 48_000, tracks: [], **more) }
    expect(shows.of_take(plan[show_uid: shows.place(id)[:uid]])).to eq(id)
    expect([shows.of_take(plan[show_uid: "0" * 8 + "-0000-0000-0000-" + "0" * 12]), shows.of_take(plan[show_uid: "rubbish"]), shows.of_take(plan[show_id: 99_999])]).to eq([nil, nil, nil])
    expect([shows.of_take(plan[show_id: id]), shows.of_take(plan[])]).to eq([id, @database[:shows].min(:id)])
  end
end

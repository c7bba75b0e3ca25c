# frozen_string_literal: true

require "core_helper"
require "support/throw_away_database"
require_relative "../../boot/backup"
require_relative "../../boot/server"

# Back-ups over real databases: made beside a running one, restored into nothing and over something.
RSpec.describe Loomshuttle::Backup do
  around do |example|
    Dir.mktmpdir("loomshuttle") do |folder|
      # The database's user gets through to its own folder.
      File.chmod(0o711, folder)
      @folder = folder
      example.run
    end
  end

  def data(name) = File.join(@folder, name)

  # An installation's data folder with a database that answers while the block runs.
  def installed(name)
    services = Loomshuttle::Services.new(data: data(name))
    File.write(File.join(data(name), "run/ports.json"), JSON.generate(services.ports))
    server = ThrowAwayDatabase.new(data(name), port: services.ports["postgres"]).start
    database = Loomshuttle::Server::Store::Database.connect(services.database_url)
    yield database, services
  ensure
    database&.disconnect
    server&.stop
  end

  def again(name)
    ports = JSON.parse(File.read(File.join(data(name), "run/ports.json")))
    services = Loomshuttle::Services.new(data: data(name), ports: ports)
    server = ThrowAwayDatabase.new(data(name), port: ports["postgres"]).start
    database = Loomshuttle::Server::Store::Database.connect(services.database_url, keep: File.join(data(name), "backups"))
    yield database
  ensure
    database&.disconnect
    server&.stop
  end

  def create(database, show) = Loomshuttle::Server::Store::Shows.new(database, Loomshuttle::Server::Assembly.codec).create(show)
  def names(database) = database[:shows].select_order_map(:name)

  def write(name, path, text)
    full = File.join(data(name), path)
    FileUtils.mkdir_p(File.dirname(full))
    File.write(full, text)
  end

  it "holds database, songs and takes, and makes another installation of them, also where there was none" do
    installed("one") do |database|
      create(database, show)
      write("one", "songs/ebb/organ.wav", "organ")
      # What songs share lies beside them.
      write("one", sound = "songs/#{Loomshuttle::Show::OwnSound.path("3f0c9a51d2e4b678", 48_000)}", "stick")
      write("one", "takes/lanterns-1/take-001/01 A.wav", "sound")
      write("one", "takes/.gone/x/01 A.wav", "deleted")
      list = described_class.new(data("one")).make(File.join(@folder, "monday"), takes: true)
      expect(list["files"].keys).to eq(["database.dump", sound, "songs/ebb/organ.wav", "takes/lanterns-1/take-001/01 A.wav"])
      expect(described_class.new(data("one")).make(File.join(@folder, "tuesday"))["files"].keys).to eq(["database.dump", sound, "songs/ebb/organ.wav"])
      expect { described_class.new(data("one")).make(File.join(@folder, "monday")) }.to raise_error(Loomshuttle::BadInput, /not there yet/)
    end
    expect(described_class.new(data("two")).restore(File.join(@folder, "monday"))).to be_nil
    expect(File.read(File.join(data("two"), "takes/lanterns-1/take-001/01 A.wav"))).to eq("sound")
    installed_two = Loomshuttle::Services.new(data: data("two"))
    File.write(File.join(data("two"), "run/ports.json"), JSON.generate(installed_two.ports))
    again("two") { |database| expect([names(database), Loomshuttle::Server::Store::Shows.new(database, Loomshuttle::Server::Assembly.codec).load(1).show]).to eq([["Lanterns over Saltmarsh"], show]) }
  end

  it "is kept of what it replaces" do
    installed("one") { |database| create(database, show) && described_class.new(data("one")).make(File.join(@folder, "monday")) }
    installed("two") { |database| create(database, show.with(name: "Tide songs")) }
    before = described_class.new(data("two")).restore(File.join(@folder, "monday"))
    again("two") { |database| expect(names(database)).to eq(["Lanterns over Saltmarsh"]) }
    described_class.new(data("two")).restore(before)
    again("two") { |database| expect(names(database)).to eq(["Tide songs"]) }
  end

  it "that is damaged, newer or none is refused, and a running installation is left alone" do
    installed("one") { |database| create(database, show) && write("one", "songs/a/b.wav", "b") && described_class.new(data("one")).make(File.join(@folder, "monday")) }
    backup = File.join(@folder, "monday")
    target = described_class.new(data("two"))
    expect { target.restore(@folder) }.to raise_error(Loomshuttle::BadInput, /a folder that "backup" made/)
    File.write(File.join(backup, "songs/a/b.wav"), "c")
    expect { target.restore(backup) }.to raise_error(Loomshuttle::BadInput, /another checksum/)
    File.delete(File.join(backup, "songs/a/b.wav"))
    expect { target.restore(backup) }.to raise_error(Loomshuttle::BadInput, /not there/)
    list = JSON.parse(File.read(File.join(backup, described_class::LIST)))
    File.write(File.join(backup, described_class::LIST), JSON.generate(list.merge("schema" => 99)))
    expect { target.restore(backup) }.to raise_error(Loomshuttle::BadInput, /newer Loomshuttle/)
    File.write(File.join(backup, described_class::LIST), JSON.generate(list.merge("files" => {})))
    installed("three") do |_, services|
      server = TCPServer.new("127.0.0.1", services.ports["http"])
      expect { described_class.new(data("three")).restore(backup) }.to raise_error(Loomshuttle::BadInput, /does not run; end it first/)
    ensure
      server&.close
    end
  end

  it "of an older version is brought up to date, with a dump of what it was before" do
    installed("one") do |database, services|
      cluster = Loomshuttle::Cluster.new(data: data("one"), port: services.ports["postgres"])
      database.disconnect
      cluster.admin("DROP DATABASE loomshuttle WITH (FORCE)")
      cluster.admin("CREATE DATABASE loomshuttle OWNER #{Loomshuttle::Cluster::OWN}")
      dump = File.read(File.join(__dir__, "../fixtures/database_before_the_library.sql"))
      cluster.admin("SET ROLE #{Loomshuttle::Cluster::OWN};\n#{dump}", database: "loomshuttle")
      expect(described_class.new(data("one")).make(File.join(@folder, "monday"))["schema"]).to eq(6)
    end
    described_class.new(data("two")).restore(File.join(@folder, "monday"))
    File.write(File.join(data("two"), "run/ports.json"), JSON.generate(Loomshuttle::Services.new(data: data("two")).ports))
    again("two") { |database| expect([names(database), database[:songs].select_map(:title)]).to eq([["Lanterns over Saltmarsh"], ["Low tide waltz"]]) }
    expect(Dir.children(File.join(data("two"), "backups"))).to match([/\Abefore-version-7-.*\.dump\z/])
    expect(File.size(Dir[File.join(data("two"), "backups/*")].first)).to be > 10_000
  end
end

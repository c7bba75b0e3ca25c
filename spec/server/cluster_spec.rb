# frozen_string_literal: true

require "core_helper"
require "support/throw_away_database"
require "pg"

# The private database, as it is started everywhere. F8: any local user could run programs through it.
RSpec.describe Loomshuttle::Cluster do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @services = Loomshuttle::Services.new(data: @folder)
    @server = ThrowAwayDatabase.new(@folder, port: @services.ports["postgres"]).start
  end

  after(:all) do
    @server.stop
    @server.remove
    FileUtils.rm_rf(@folder)
  end

  def mode(path) = format("%o", File.stat(path).mode & 0o777)
  def connect(url = @services.database_url) = PG.connect(url)

  it "lets nobody in without the password, which only its owner can read" do
    without = @services.database_url.sub(/:[0-9a-f]+@/, "@")
    expect { connect(without) }.to raise_error(PG::ConnectionBad, /password/)
    expect { connect(without.sub("loomshuttle_app", "loomshuttle")) }.to raise_error(PG::ConnectionBad, /password/)
    expect { connect(@services.database_url.sub(/:[0-9a-f]+@/, ":guess@")) }.to raise_error(PG::ConnectionBad, /password/)
    expect(mode(File.join(@folder, "run/database.json"))).to eq("600")
    expect(%w[run takes songs import].map { |folder| mode(File.join(@folder, folder)) }.uniq).to eq(["700"])
  end

  it "works as a role that can make its tables, and neither run programs nor read files nor make roles" do
    connection = connect
    connection.exec("CREATE TABLE tried (id int); DROP TABLE tried")
    ["COPY (SELECT 1) TO PROGRAM 'true'", "SELECT pg_read_file('/etc/passwd')", "CREATE ROLE other", "CREATE DATABASE other"].each do |sql|
      expect { connection.exec(sql) }.to raise_error(PG::InsufficientPrivilege), sql
    end
  ensure
    connection&.close
  end

  it "closes a database of before, which trusted everybody, and hands its tables over" do
    folder = Dir.mktmpdir("loomshuttle")
    services = Loomshuttle::Services.new(data: folder)
    # As it was left behind: no passwords anywhere.
    File.write(File.join(ThrowAwayDatabase.new(folder, port: services.ports["postgres"]).cluster.folder, "pg_hba.conf"), "host all all 127.0.0.1/32 trust\n")
    as_before = "postgres://loomshuttle@127.0.0.1:#{services.ports["postgres"]}/"
    FileUtils.rm(File.join(folder, "run/database.json"))
    old = ThrowAwayDatabase.new(folder, port: services.ports["postgres"])
    made = false
    old.start do
      connection = connect("#{as_before}postgres")
      connection.exec("CREATE DATABASE loomshuttle")
      connection.close
      connect("#{as_before}loomshuttle").then { |one| one.exec("CREATE TABLE shows (id int); INSERT INTO shows VALUES (7)") && one.close }
      made = true
    end
    expect(made).to be(true)
    connection = connect(services.database_url)
    expect(connection.exec("SELECT id FROM shows").to_a).to eq([{"id" => "7"}])
    connection.exec("ALTER TABLE shows ADD COLUMN more text")
    expect { connect("#{as_before}postgres") }.to raise_error(PG::ConnectionBad, /password/)
  ensure
    connection&.close
    old&.stop
    old&.remove
    FileUtils.rm_rf(folder)
  end
end

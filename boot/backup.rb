# frozen_string_literal: true

require "digest"
require "fileutils"
require "json"
require "open3"
require "socket"
require_relative "cluster"
require_relative "secrets"

module Loomshuttle
  # A back-up of one installation: its database, the library's sound files and, where wanted, its takes, in one
  # folder with a checksum of every file. A back-up of an older version is brought up to date when Loomshuttle
  # is started on it.
  #
  #   Backup.new("/srv/shows").make("/media/stick/monday", takes: true)
  #   Backup.new("/srv/shows").restore("/media/stick/monday")
  class Backup
    # What makes a folder a back-up.
    LIST = "loomshuttle-backup.json"
    DUMP = "database.dump"
    FORM = 1
    private_constant :DUMP, :FORM

    # @param data [String] the data folder
    # @param say [#call] is told what is done
    def initialize(data, say: ->(_) {})
      @data = File.expand_path(data)
      @say = say
      kept = File.join(@data, "run/ports.json")
      @ports = File.exist?(kept) ? JSON.parse(File.read(kept)) : {}
    end

    # @param target [String] a folder that is not there yet
    # @param takes [Boolean] the takes too
    # @return [Hash] what it holds, see LIST
    # @raise [BadInput]
    def make(target, takes: false)
      refuse("folder", target, "a folder that is not there yet") if File.exist?(target)
      refuse("data", @data, "a data folder with a database") unless File.directory?(cluster.folder)
      draft = "#{target}.part"
      FileUtils.rm_rf(draft)
      FileUtils.mkdir_p(draft, mode: 0o700)
      with_database { dump(File.join(draft, DUMP)) }
      ["songs", *("takes" if takes)].each { |folder| copy(File.join(@data, folder), File.join(draft, folder)) }
      list = list_of(draft, takes)
      File.write(File.join(draft, LIST), JSON.pretty_generate(list))
      File.rename(draft, target)
      list
    ensure
      FileUtils.rm_rf(draft) if draft
    end

    # Puts a back-up in place of what is there, which is itself backed up first.
    #
    # @param source [String]
    # @return [String, nil] where what was there is kept
    # @raise [BadInput] for one that is damaged or newer, or while Loomshuttle runs; nothing is changed then
    def restore(source)
      list = checked(source)
      refuse("data", @data, "an installation that does not run; end it first") if running?

      before = File.directory?(cluster.folder) ? File.join(@data, "backups", Time.now.strftime("before-restore-%Y%m%d-%H%M%S")) : nil
      before && make(before)
      Secrets.of(@data).own
      cluster.prepare
      with_database { load(File.join(source, DUMP)) }
      %w[songs takes].select { |folder| File.directory?(File.join(source, folder)) }.each { |folder| copy(File.join(source, folder), File.join(@data, folder)) }
      @say.call("#{list["files"].size} files restored")
      before
    end

    # @return [Hash] the list of a whole and unharmed back-up
    # @raise [BadInput]
    def checked(source)
      path = File.join(source, LIST)
      refuse("folder", source, "a folder that \"backup\" made (it holds #{LIST})") unless File.file?(path)
      list = JSON.parse(File.read(path))
      newest = Dir[File.expand_path("../db/*.rb", __dir__)].size
      refuse("version", list["schema"], "one up to #{newest}; a newer Loomshuttle made this back-up") if list["form"] != FORM || list["schema"] > newest
      list["files"].each { |name, sum| check(source, name, sum) }
      list
    rescue JSON::ParserError
      refuse("folder", source, "a back-up whose #{LIST} is whole")
    end

    private

    def refuse(field, value, allowed) = raise(BadInput.new(field: field, value: value, allowed: allowed))

    def check(source, name, sum)
      path = File.join(source, name)
      refuse(name, "not there", "a back-up with all its files; nothing was changed") unless File.file?(path)
      refuse(name, "another checksum", "a back-up whose files are unharmed; nothing was changed") unless Digest::SHA256.file(path).hexdigest == sum
    end

    def port = @port ||= @ports["postgres"] || free_port
    def cluster = @cluster ||= Cluster.new(data: @data, port: port)
    def running? = @ports["http"] ? answers?(@ports["http"]) : false

    def answers?(port)
      TCPSocket.new("127.0.0.1", port).close || true
    rescue SystemCallError
      false
    end

    def free_port
      server = TCPServer.new("127.0.0.1", 0)
      server.addr[1]
    ensure
      server&.close
    end

    # The database runs already, or is started for as long as it takes.
    def with_database
      pid = spawn(*cluster.command, :chdir => "/", %i[out err] => File::NULL) unless answers?(port)
      cluster.ready
      yield
    ensure
      if pid
        Process.kill("INT", pid)
        Process.wait(pid)
      end
    end

    def dump(path)
      run({"PGPASSWORD" => Secrets.of(@data).own}, "#{Cluster::BIN}/pg_dump", "-Fc", *connection, "-f", path)
      @say.call("database")
    end

    # Into a database of its own, which then takes the place of the one that is there: broken off, that stays.
    def load(path)
      cluster.admin("DROP DATABASE IF EXISTS loomshuttle_restored WITH (FORCE)")
      cluster.admin("CREATE DATABASE loomshuttle_restored OWNER #{Cluster::OWN}")
      run({"PGPASSWORD" => Secrets.of(@data).own}, "#{Cluster::BIN}/pg_restore", "--no-owner", "--exit-on-error", *connection("loomshuttle_restored"), path)
      cluster.admin("DROP DATABASE loomshuttle WITH (FORCE)")
      cluster.admin("ALTER DATABASE loomshuttle_restored RENAME TO loomshuttle")
    end

    def connection(database = "loomshuttle") = ["-h", "127.0.0.1", "-p", port.to_s, "-U", Cluster::OWN, "-d", database]

    def run(environment, *command)
      output, status = Open3.capture2e(environment, *command)
      raise "#{File.basename(command.first)} failed: #{output.lines.last}" unless status.success?
    end

    # Hidden folders are what is being made or deleted at the moment.
    def copy(from, to)
      Dir.glob("**/*", base: from).each do |name|
        path = File.join(from, name)
        next unless File.file?(path)

        target = File.join(to, name)
        FileUtils.mkdir_p(File.dirname(target), mode: 0o700)
        FileUtils.cp(path, "#{target}.part", preserve: true)
        File.rename("#{target}.part", target)
      end
      @say.call(File.basename(from))
    end

    def list_of(folder, takes)
      files = Dir.glob("**/*", base: folder).select { |name| File.file?(File.join(folder, name)) }.sort
      {form: FORM, schema: schema, made_at: Time.now.utc.strftime("%FT%TZ"), takes: takes, files: files.to_h { |name| [name, Digest::SHA256.file(File.join(folder, name)).hexdigest] }}
        .transform_keys(&:to_s)
    end

    # Up to November 2026 a table of file names said which version it is (see Store::Database).
    def schema
      @schema ||= with_database do
        table = cluster.admin("SELECT coalesce(to_regclass('public.schema_info'), to_regclass('public.migrations'))::text", database: "loomshuttle")
        Integer(cluster.admin((table == "schema_info") ? "SELECT version FROM schema_info" : "SELECT count(*) FROM migrations", database: "loomshuttle"))
      end
    end
  end
end

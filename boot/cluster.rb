# frozen_string_literal: true

require "English"
require "digest"
require "fileutils"
require "open3"
require "tempfile"
require_relative "enterable"
require_relative "kept_file"
require_relative "secrets"

module Loomshuttle
  # A private PostgreSQL cluster on loopback that trusts nobody: who looks after it and who works
  # in it have a password each, and the second may do nothing beside its own tables. The server refuses
  # to run as root, so root drops to the user postgres, in a folder that this user may enter.
  class Cluster
    BIN = "/usr/lib/postgresql/15/bin"
    ADMIN = "loomshuttle"
    # The role that the server works as.
    OWN = "loomshuttle_app"
    HBA = "host all all 127.0.0.1/32 scram-sha-256\n"
    private_constant :ADMIN, :HBA

    attr_reader :folder

    # @param throw_away [Boolean] for tests: no waiting for the disk
    def initialize(data:, port:, throw_away: false)
      @port = port
      @throw_away = throw_away
      @secrets = Secrets.of(data)
      @place = Enterable.new(data, "postgres")
      @folder = File.join(@place.itself? ? data : elsewhere(File.expand_path(data)), "postgres")
    end

    def root? = Process.uid.zero?

    # Makes the cluster where there is none. Where its passwords were lost, or are another cluster's, it is told others.
    def prepare
      renewed = @secrets.mend
      return (renewed || others?) && know_admin if there?

      FileUtils.mkdir_p(folder)
      FileUtils.chown_R("postgres", "postgres", folder) if root?
      File.chmod(0o700, folder)
      hasty = @throw_away ? ["--no-sync"] : []
      with_password_file do |path|
        run(*drop, "#{BIN}/initdb", "-D", folder, "-U", ADMIN, "--auth=scram-sha-256", "--pwfile=#{path}", "--encoding=UTF8", "--locale=C.UTF-8", *hasty)
      end
    end

    # @return [Array<String>] command line that runs the server in the foreground
    def command
      settings = ["listen_addresses=127.0.0.1", "unix_socket_directories=", *("fsync=off" if @throw_away)]
      [*drop, "#{BIN}/postgres", "-D", folder, "-p", @port.to_s, *settings.flat_map { |setting| ["-c", setting] }]
    end

    # Makes the roles and the database as soon as the server answers, and closes a cluster that
    # trusted everybody, as those of before did.
    def ready
      answering
      close if open?
      admin("CREATE ROLE #{OWN} LOGIN") if admin("SELECT 1 FROM pg_roles WHERE rolname = '#{OWN}'").empty?
      admin("ALTER ROLE #{OWN} NOSUPERUSER NOCREATEDB NOCREATEROLE PASSWORD '#{@secrets.own}'")
      admin("CREATE DATABASE loomshuttle OWNER #{OWN}") if admin("SELECT 1 FROM pg_database WHERE datname = 'loomshuttle'").empty?
      admin(HAND_OVER, database: "loomshuttle")
      KeptFile.write(told, told_now) if !File.exist?(told) || others?
    end

    # Waits until the server answers.
    def answering
      READY_TRIES.times do
        break if system("#{BIN}/pg_isready", "-q", *at, "-d", "postgres")

        sleep 0.1
      end
    end

    # Runs SQL as the role that looks after the database.
    #
    # @return [String] what it answers
    def admin(sql, database: "postgres")
      output, status = Open3.capture2e({"PGPASSWORD" => @secrets.admin}, "#{BIN}/psql", "-XAtq", "-v", "ON_ERROR_STOP=1", *at, "-d", database, stdin_data: sql)
      raise "#{sql[0, 60]} failed:\n#{output}" unless status.success?

      output.strip
    end

    # Two minutes: a machine that does much else at the time takes long over its first start.
    READY_TRIES = 1200
    # What somebody else made in the database of before belongs to the role that works in it.
    HAND_OVER = <<~SQL
      ALTER DATABASE loomshuttle OWNER TO #{OWN};
      ALTER SCHEMA public OWNER TO #{OWN};
      DO $$ DECLARE made record; BEGIN
        FOR made IN SELECT tablename FROM pg_tables WHERE schemaname = 'public' AND tableowner <> '#{OWN}'
        LOOP EXECUTE format('ALTER TABLE public.%I OWNER TO #{OWN}', made.tablename); END LOOP;
      END $$;
    SQL
    private_constant :READY_TRIES, :HAND_OVER

    private

    # Where the database of a data folder is that its user cannot get through to. Up to November 2026 a sum of
    # 16 bits named it, which another folder can have as well.
    def elsewhere(data)
      before, now = @place.elsewhere(data.sum.to_s(36)), @place.folder
      (!File.exist?(now) && File.exist?(File.join(before, "postgres/PG_VERSION")) && File.exist?(File.join(data, "run/database.json"))) ? before : now
    end

    # What the cluster was told last, so that passwords which came from somewhere else are known before they are needed.
    def told = File.join(folder, "loomshuttle-told.sha256")
    def told_now = Digest::SHA256.hexdigest(@secrets.admin)
    def others? = File.exist?(told) && File.read(told) != told_now
    def there? = File.exist?(File.join(folder, "PG_VERSION"))
    def at = ["-h", "127.0.0.1", "-p", @port.to_s, "-U", ADMIN]

    # By the server itself while nobody else can speak to it.
    def know_admin
      output, status = Open3.capture2e(*drop, "#{BIN}/postgres", "--single", "-D", folder, "postgres", stdin_data: "ALTER ROLE #{ADMIN} PASSWORD '#{@secrets.admin}'\n", chdir: "/")
      raise "The database was not told its new password:\n#{output}" unless status.success? && !output.include?("ERROR:")
    end

    # Whether somebody without a password gets in.
    def open?
      _, status = Open3.capture2e({"PGPASSWORD" => nil}, "#{BIN}/psql", "-XAtqw", *at, "-d", "postgres", "-c", "SELECT 1")
      status.success?
    end

    def close
      admin("ALTER ROLE #{ADMIN} PASSWORD '#{@secrets.admin}'")
      path = File.join(folder, "pg_hba.conf")
      File.write(path, HBA)
      FileUtils.chown("postgres", "postgres", path) if root?
      admin("SELECT pg_reload_conf()")
      READY_TRIES.times { open? ? sleep(0.05) : break }
    end

    # initdb reads it as the user that it runs as.
    def with_password_file
      Tempfile.create("loomshuttle", "/var/tmp") do |file|
        file.write(@secrets.admin)
        file.flush
        File.chmod(0o600, file.path)
        FileUtils.chown("postgres", "postgres", file.path) if root?
        yield file.path
      end
    end

    def drop = @place.drop

    def run(*command)
      output = IO.popen(command, err: %i[child out], chdir: "/", &:read)
      raise "#{command.first(4).join(" ")} failed:\n#{output}" unless $CHILD_STATUS.success?
    end
  end
end

# frozen_string_literal: true

require "English"
require "etc"
require "fileutils"

module Loomshuttle
  # A private PostgreSQL cluster on loopback. The server refuses to run as root, so root
  # drops to the user postgres, in a folder that this user may enter.
  class Cluster
    BIN = "/usr/lib/postgresql/15/bin"
    private_constant :BIN

    attr_reader :folder

    # @param throw_away [Boolean] for tests: no waiting for the disk
    def initialize(data:, port:, throw_away: false)
      @port = port
      @throw_away = throw_away
      own = "loomshuttle-#{Etc.getpwuid.uid}-#{File.expand_path(data).sum.to_s(36)}"
      @folder = File.join(reachable?(data) ? data : File.join("/var/tmp", own), "postgres")
    end

    def root? = Process.uid.zero?

    # Makes the cluster where there is none.
    def prepare
      return if File.exist?(File.join(folder, "PG_VERSION"))

      FileUtils.mkdir_p(folder)
      FileUtils.chown_R("postgres", "postgres", folder) if root?
      File.chmod(0o700, folder)
      hasty = @throw_away ? ["--no-sync"] : []
      run(*drop, "#{BIN}/initdb", "-D", folder, "-U", "loomshuttle", "--auth=trust", "--encoding=UTF8", "--locale=C.UTF-8", *hasty)
    end

    # @return [Array<String>] command line that runs the server in the foreground
    def command
      settings = ["listen_addresses=127.0.0.1", "unix_socket_directories=", *("fsync=off" if @throw_away)]
      [*drop, "#{BIN}/postgres", "-D", folder, "-p", @port.to_s, *settings.flat_map { |setting| ["-c", setting] }]
    end

    # Waits until the server answers and makes the database.
    def ready
      READY_TRIES.times do
        break if system("#{BIN}/pg_isready", "-q", *at, "-d", "postgres")

        sleep 0.1
      end
      there = IO.popen(["psql", "-XAt", *at, "-d", "postgres", "-c", "SELECT 1 FROM pg_database WHERE datname = 'loomshuttle'"], &:read).strip
      run("#{BIN}/createdb", *at, "loomshuttle") unless there == "1"
    end

    # Two minutes: a machine that does much else at the time takes long over its first start.
    READY_TRIES = 1200
    private_constant :READY_TRIES

    private

    def at = ["-h", "127.0.0.1", "-p", @port.to_s, "-U", "loomshuttle"]

    # setpriv becomes the server itself, so that signals reach it (runuser stays between).
    def drop = root? ? ["setpriv", "--reuid=postgres", "--regid=postgres", "--init-groups", "--"] : []

    def reachable?(data)
      return true unless root?

      FileUtils.mkdir_p(data)
      system(*drop, "test", "-x", File.expand_path(data), out: File::NULL, err: File::NULL)
    end

    def run(*command)
      output = IO.popen(command, err: %i[child out], chdir: "/", &:read)
      raise "#{command.first(4).join(" ")} failed:\n#{output}" unless $CHILD_STATUS.success?
    end
  end
end

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
      @folder = reachable?(data) ? File.join(data, "postgres") : File.join("/var/tmp",
        "loomshuttle-#{Etc.getpwuid.uid}-#{File.expand_path(data).sum.to_s(36)}",
        "postgres")
    end

    def root? = Process.uid.zero?

    # Makes the cluster where there is none.
    def prepare
      return if File.exist?(File.join(folder, "PG_VERSION"))

      FileUtils.mkdir_p(folder)
      FileUtils.chown_R("postgres", "postgres", folder) if root?
      File.chmod(0o700, folder)
      run(*drop, "#{BIN}/initdb", "-D", folder, "-U", "loomshuttle", "--auth=trust", "--encoding=UTF8", "--locale=C.UTF-8", *(if @throw_away
                                                                                                                                "--no-sync"
                                                                                                                              end))
    end

    # @return [Array<String>] command line that runs the server in the foreground
    def command
      [*drop,
        "#{BIN}/postgres",
        "-D",
        folder,
        "-p",
        @port.to_s,
        "-c",
        "listen_addresses=127.0.0.1",
        "-c",
        "unix_socket_directories=",
        *(if @throw_away
            ["-c", "fsync=off"]
          end)]
    end

    # Waits until the server answers and makes the database.
    def ready
      100.times do
        break if system("#{BIN}/pg_isready", "-q", "-h", "127.0.0.1", "-p", @port.to_s, "-U", "loomshuttle", "-d", "postgres")

        sleep 0.1
      end
      there = IO.popen(["psql",
        "-XAt",
        "-h",
        "127.0.0.1",
        "-p",
        @port.to_s,
        "-U",
        "loomshuttle",
        "-d",
        "postgres",
        "-c",
        "SELECT 1 FROM pg_database WHERE datname = 'loomshuttle'"], &:read).strip
      run("#{BIN}/createdb", "-h", "127.0.0.1", "-p", @port.to_s, "-U", "loomshuttle", "loomshuttle") unless there == "1"
    end

    private

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

# frozen_string_literal: true

require "net/http"
require "shellwords"
require_relative "kept_file"
require_relative "services"

module Loomshuttle
  # All processes of one installation under runit's supervisor, which starts again whatever dies,
  # until somebody ends this one.
  #
  #   Supervised.new(data: "/srv/show", ports: {"http" => 4600}).run { |services| load_a_first_show(services) }
  class Supervised
    # @param data [String] the data folder
    # @param ports [Hash{String => Integer}] wanted ones; the others as last time, or free ones
    def initialize(data:, ports: {})
      data = File.expand_path(data)
      kept = File.join(data, "run/ports.json")
      @held = hold(data, kept)
      wanted = last_ports(kept).merge(ports)
      @services = Services.new(data: data, ports: wanted.select { |_, port| free?(port) })
      KeptFile.write(kept, JSON.generate(@services.ports), mode: 0o644)
      Secrets.door(data).mend
      @cluster = Cluster.new(data: data, port: @services.ports["postgres"])
    end

    # Says the address as soon as the server answers.
    #
    # @yield [Services] when the database answers
    def run
      @cluster.prepare
      write_down({"postgres" => @cluster.command, **@services.commands})
      # Every process has the lock: it is let go when the last of them has ended, also where this one was killed.
      supervisor = spawn(@services.environment, "runsvdir", "-P", folder, @held => @held)
      @held.write(supervisor.to_s)
      @held.flush
      %w[INT TERM].each { |signal| trap(signal) { exit } }
      at_exit do
        hang_up(supervisor)
        # Some hundred megabytes of memory, which nobody reads any more.
        FileUtils.rm_rf(@services.rings)
      end
      @cluster.ready
      yield @services if block_given?
      answering
      puts "Loomshuttle is at http://127.0.0.1:#{@services.ports["http"]}/  (Ctrl+C ends it)"
      $stdout.flush
      Process.wait(supervisor)
    end

    private

    def folder = File.join(@services.data, "run/services")

    # Two on the same data would take each other's sockets, memory and takes.
    #
    # @return [File] open as long as this process lives
    def hold(data, ports)
      FileUtils.mkdir_p(File.join(data, "run"))
      file = File.open(File.join(data, "run/held"), File::RDWR | File::CREAT, 0o600)
      # What was just ended may take a moment.
      HELD_TRIES.times { file.flock(File::LOCK_EX | File::LOCK_NB) ? (return file.tap { file.truncate(0) }) : sleep(0.05) }
      http = last_ports(ports)["http"]
      abort "Loomshuttle runs on #{data} already#{", at http://127.0.0.1:#{http}/" if http}. Nothing was changed. End that one first, by Ctrl+C where it was begun " \
        "or by \"kill -HUP #{file.read}\", or name another folder in LOOMSHUTTLE_DATA."
    end

    # Five seconds.
    HELD_TRIES = 100
    private_constant :HELD_TRIES

    def last_ports(path) = KeptFile.read(path).to_h.slice(*Services::PORTS).select { |_, port| port.is_a?(Integer) && port.between?(1, 65_535) }

    # A port of last time that somebody else has now is chosen anew.
    def free?(port)
      TCPServer.new("127.0.0.1", port).close || true
    rescue SystemCallError
      false
    end

    def write_down(commands)
      FileUtils.rm_rf(folder)
      commands.each do |name, command|
        own = File.join(folder, name)
        FileUtils.mkdir_p(own)
        log = File.join(@services.data, "run/#{name}.log")
        File.write(File.join(own, "run"), "#!/bin/sh\ncd #{Shellwords.escape((name == "postgres") ? "/" : Services::ROOT)}\n" \
          "exec #{Shellwords.join(command)} >>#{Shellwords.escape(log)} 2>&1\n")
        File.chmod(0o755, File.join(own, "run"))
      end
    end

    # runit ends its services in good order when its supervisor is hung up; it does not wait for them itself.
    def hang_up(supervisor)
      left = Dir[File.join(folder, "*/supervise/pid")].map { |path| File.read(path).to_i }.select(&:positive?)
      Process.kill("HUP", supervisor)
      Process.wait(supervisor)
      ENDING_TRIES.times { (left = left.select { |pid| there?(pid) }).empty? ? break : sleep(0.05) }
    rescue SystemCallError
      nil
    end

    # A minute: a take is closed first.
    ENDING_TRIES = 1200
    private_constant :ENDING_TRIES

    def there?(pid)
      Process.kill(0, pid) && true
    rescue Errno::ESRCH
      false
    end

    # Two minutes.
    def answering
      address = URI("http://127.0.0.1:#{@services.ports["http"]}/api/shows")
      1200.times do
        return if Net::HTTP.get_response(address).is_a?(Net::HTTPOK)

        sleep 0.1
      rescue SystemCallError
        sleep 0.1
      end
    end
  end
end

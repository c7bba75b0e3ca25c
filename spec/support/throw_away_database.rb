# frozen_string_literal: true

require_relative "../../boot/services"

# A PostgreSQL of its own in a folder, started as the demo starts it; ended by its id.
class ThrowAwayDatabase
  def initialize(folder, port:)
    File.chmod(0o711, folder)
    @cluster = Loomshuttle::Cluster.new(data: folder, port: port, throw_away: true)
    @log = File.join(folder, "postgres.log")
    @cluster.prepare
  end

  # @yield when it answers, before roles and database are made
  # @return [ThrowAwayDatabase] that answers; also again, on the same data, after a stop
  def start
    @pid = spawn(*@cluster.command, :chdir => "/", %i[out err] => @log)
    @cluster.answering
    yield if block_given?
    @cluster.ready
    self
  end

  attr_reader :pid, :cluster

  # Also where an example that failed left it stopped.
  def stop
    Process.kill("INT", @pid)
    Process.wait(@pid)
  rescue Errno::ESRCH, Errno::ECHILD
    nil
  end

  def remove = FileUtils.rm_rf(@cluster.folder)
end

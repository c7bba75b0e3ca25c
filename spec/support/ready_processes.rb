# frozen_string_literal: true

require "json"
require "socket"
require "tmpdir"
require_relative "../../boot/services"

# Processes of installations that are there at once: one of each program was started by the product's own command and
# stands by (standing_by.rb); what an installation starts is a fork of it. Which of them have ended is seen by their ids
# alone, since they are nobody's children here.
module ReadyProcesses
  # A front door starts another program; a COVERAGE run wants each process from its beginning, and what is to be
  # loaded before all else (another clock) comes too late for one that has begun.
  FORKED = %w[standin engine deck ear server worker].freeze

  module_function

  # @param name [String] @param command [Array<String>] as Loomshuttle::Services#commands has them
  # @param arguments [Array<String>] behind the command
  # @return [Integer] the process id
  def start(name, command, arguments, environment, log)
    unless forked?(name, environment)
      return Process.detach(spawn(environment, *command, *arguments, :chdir => Loomshuttle::Services::ROOT, %i[out err] => log)).pid
    end

    UNIXSocket.open(standing_by(name, command, environment)) do |line|
      line.puts(JSON.generate(environment: ENV.to_h.merge(environment), arguments: (arguments if arguments.any?), log: log))
      Integer(line.gets)
    end
  end

  def forked?(name, environment) = FORKED.include?(name) && !ENV["COVERAGE"] && !environment.key?("LD_PRELOAD")

  # Waits until it is gone.
  def ended(pid)
    sleep 0.005 while there?(pid)
  end

  def there?(pid)
    Process.kill(0, pid)
    true
  rescue Errno::ESRCH
    false
  end

  # @return [String] the socket of the one that stands by
  def standing_by(name, command, environment)
    @sockets ||= {}
    @sockets[name] ||= File.join(folder, name).tap do |socket|
      pid = spawn({**environment, "STANDING_BY" => "#{socket} #{name}", "RUBYOPT" => "-r#{File.join(__dir__, "standing_by")}"},
        *command, :chdir => Loomshuttle::Services::ROOT, %i[out err] => "#{socket}.log")
      at_exit { Process.kill("KILL", pid) && Process.wait(pid) }
      sleep 0.02 until File.socket?(socket) || Process.wait(pid, Process::WNOHANG)
      raise "#{name} does not stand by: #{File.read("#{socket}.log")}" unless File.socket?(socket)
    end
  end

  def folder = @folder ||= Dir.mktmpdir("loomshuttle-ready").tap { |folder| at_exit { FileUtils.rm_rf(folder) } }
end

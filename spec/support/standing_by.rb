# frozen_string_literal: true

# Required by a program before it runs (RUBYOPT), with STANDING_BY as a socket: loads what the program needs besides its own
# part, and waits. For each wish that comes in, a fork goes on as the program itself, from its first line on, in the
# environment that the wish has. Starting Ruby and reading code was five sixths of an installation's start.
#
#   wish    {"environment": {NAME: VALUE}, "arguments": [...], "log": PATH}, a line
#   answer  the process id, a line
require "bundler/setup"
require "json"
require "socket"

# The program that waits for its cue.
class StandingBy
  LOADED = {
    "server" => %w[boot/server],
    "worker" => %w[boot/server],
    nil => %w[boot/rings boot/files boot/runtime]
  }.freeze

  # @param socket [String] path
  # @param name [String] of the program, as Loomshuttle::Services#commands has it
  def initialize(socket, name)
    require_relative "../../boot/quick"
    LOADED.fetch(name) { LOADED[nil] }.each { |file| require_relative "../../#{file}" }
    %w[puma/cli sequel/adapters/postgres].each { |gem| require gem } if LOADED[name] == %w[boot/server]
    # What is loaded stays: no collector of a fork looks at it again and again.
    4.times { GC.start }
    @listener = UNIXServer.new(socket)
  end

  # Returns in each fork alone.
  def wait
    loop do
      reap
      next unless @listener.wait_readable(0.02)

      line = @listener.accept
      wish = JSON.parse(line.gets)
      pid = fork or return go_on(wish, line)
      line.puts(pid)
      line.close
    end
  end

  private

  # An ended one is gone from the list of processes as soon as it has ended: that is what is waited for.
  def reap
    nil while Process.wait(-1, Process::WNOHANG)
  rescue Errno::ECHILD
    nil
  end

  def go_on(wish, line)
    [line, @listener].each(&:close)
    ENV.replace(wish["environment"])
    ARGV.replace(wish["arguments"]) if wish["arguments"]
    $stdout.reopen(wish["log"], "w")
    $stderr.reopen($stdout)
  end
end

StandingBy.new(*ENV.fetch("STANDING_BY").split(" ")).wait

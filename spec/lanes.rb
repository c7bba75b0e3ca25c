# frozen_string_literal: true

# Runs all specs in lanes, each with ports, temporary folder and log of its own. A lane's installation with its browser
# keeps one core and a half busy, so one runs for every two cores: with two lanes on two cores nothing was gained, and
# what sounds came late.
#
#   bundle exec ruby spec/lanes.rb [SEED]
#
# Prints a dot an example, what failed with how to run it again, how long each lane took and the slowest examples.
# What programs under test print goes to tmp/lanes/LANE.log.
require "etc"
require "fileutils"
require "json"
require "tmpdir"

# One rspec process (or another program) over some of the specs.
class Lane
  ROOT = File.expand_path("..", __dir__)
  LOGS = File.join(ROOT, "tmp/lanes")
  PORTS = 3000
  FIRST_PORT = 20_000

  attr_reader :name, :seconds

  # @param place [Integer] 0 for the first: which ports are its own
  # @param files [Array<String>] folders or files of specs
  def initialize(name, place, files)
    @name, @place, @files = name, place, files
  end

  # @param seed [Integer]
  def start(seed)
    FileUtils.mkdir_p(LOGS)
    FileUtils.rm_f(results)
    @folder = Dir.mktmpdir("lane-#{name}")
    # The database's user must get through to its own folder in it.
    File.chmod(0o711, @folder)
    @began_s = now_s
    @pid = spawn(environment, *command(seed), chdir: ROOT, in: File::NULL, err: log)
  end

  # @param pid [Integer] of a process that has ended
  # @return [Boolean] whether it was this lane's
  def ended?(pid, status)
    return false unless pid == @pid

    @seconds, @status = now_s - @began_s, status
    FileUtils.rm_rf(@folder)
    true
  end

  def passed? = @status.success? && !examples.nil? && failed.empty?

  # @return [Array<Hash>, nil] as RSpec's JSON has them; nil where the lane broke down before it could say
  def examples = report&.fetch("examples")
  def failed = examples.to_a.select { |example| example["status"] == "failed" }

  # @return [Array<String>] errors outside of examples, and why there are no examples
  def trouble
    return [] if passed? || failed.any?

    ["#{name} ended with #{@status.exitstatus || @status.termsig}.", *report&.fetch("messages", nil), *File.readlines(log, chomp: true).last(30)]
  end

  private

  def log = File.join(LOGS, "#{name}.log")
  def results = File.join(LOGS, "#{name}.json")
  def report = @report ||= (JSON.parse(File.read(results)) if File.size?(results))
  def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)

  def environment
    first = FIRST_PORT + @place * PORTS
    {"LOOMSHUTTLE_FREE_PORTS" => "#{first}-#{first + PORTS - 1}", "TMPDIR" => @folder, "LANE" => name}
  end

  def command(seed)
    ["bundle", "exec", "rspec", "--require", "./spec/support/dots", "--format", "Dots", "--format", "json", "--out", results, "--seed", seed.to_s, *@files]
  end
end

# All lanes of a run, and what is said of it.
class Lanes
  SLOWEST = 20
  AT_ONCE = [Etc.nprocessors / 2, 1].max
  FOLDERS = {
    "browser" => %w[browser],
    "processes" => %w[server engine deck standin demo],
    "core" => %w[core web files rings runtime cli]
  }.freeze

  def initialize(seed)
    @seed = seed
    @lanes = FOLDERS.map.with_index { |(name, folders), place| Lane.new(name, place, folders.map { |folder| "spec/#{folder}" }) }
  end

  # @return [Boolean] whether all passed
  def run
    $stdout.sync = true
    side_by_side
    say
    say_reached if ENV["COVERAGE"]
    @lanes.all?(&:passed?)
  end

  private

  def side_by_side
    waiting, running = @lanes.dup, []
    until waiting.empty? && running.empty?
      running << waiting.shift.tap { |lane| lane.start(@seed) } while running.size < AT_ONCE && waiting.any?
      ended = Process.wait2
      running.reject! { |lane| lane.ended?(*ended) }
    end
  end

  def say
    puts
    @lanes.each { |lane| lane.failed.each { |example| say_failed(example) } }
    puts(*@lanes.flat_map(&:trouble))
    puts "", "Slowest:", *slowest, "", *@lanes.map { |lane| format("%-10s %4d examples, %4.0f s", lane.name, lane.examples.to_a.size, lane.seconds) }
    examples = @lanes.flat_map { |lane| lane.examples.to_a }
    puts "", "Randomized with seed #{@seed}", "#{examples.size} examples, #{@lanes.sum { |lane| lane.failed.size }} failures"
  end

  def say_failed(example)
    fault = example["exception"]
    puts "", example["full_description"], "  #{fault["class"]}: #{fault["message"].gsub("\n", "\n  ")}",
      *fault["backtrace"].to_a.grep(%r{/spec/}).first(6).map { |line| "    #{line.sub("#{Lane::ROOT}/", "")}" },
      "  bin/test '#{example["id"]}' --seed #{@seed}"
  end

  # Each lane and process kept its own; files that nobody loaded are not among them.
  def say_reached
    require "simplecov"
    SimpleCov.collate([File.join(Lane::ROOT, "coverage/.resultset.json")]) { formatter SimpleCov::Formatter::SimpleFormatter }
  end

  def slowest
    all = @lanes.flat_map { |lane| lane.examples.to_a }
    all.max_by(SLOWEST) { |one| one["run_time"] }.map { |one| format("%6.1f s  %s", one["run_time"], one["full_description"][0, 100]) }
  end
end

exit Lanes.new((ARGV.first || Random.rand(100_000)).to_i).run if $PROGRAM_NAME == __FILE__

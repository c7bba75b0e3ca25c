# frozen_string_literal: true

# Measures the ear:
#   bundle exec ruby bench/ear.rb stages 500   # planted faults on random stages, through the stand-in's desk, all named?
#   bundle exec ruby bench/ear.rb share 64     # what hearing so many lanes takes of one core, as a share of the time that they sound
require "tmpdir"
require_relative "../boot/rings"
require_relative "../boot/standin"
require_relative "../demo/lanterns"
require_relative "../spec/support/checked_stage"
module Loomshuttle
  module Earshot; end
  load_part("earshot", Earshot)
end

# Stages that are drawn by lot, and how many of their faults the ear names.
class RandomStages
  include Loomshuttle

  PAIRS = [[2, 3], [7, 8]].freeze
  KINDS = %w[swap dead phantom lane hum polarity clip].freeze
  # What is tapped beside the faulty ones: who is right must not be called wrong.
  RIGHT = 3

  def initialize(seed)
    @random = Random.new(seed)
    @band = Standin::Band.new(sample_rate_hz: 48_000)
    @sounds = Standin::Stage::Sounds.new(48_000)
    pairs = PAIRS.flat_map { |one, other| [[one, other], [other, one]] }
    @show = pairs.reduce(Demo.show(Demo.mended)) { |show, (one, other)| Edits::SetRows.new(rows: {row(one) => {"pair" => row(other)}}).apply(show) }
  end

  # @return [Hash] faults, named, right, alarms, told_ms of each verdict
  def run(count)
    sums = {faults: 0, named: 0, right: 0, alarms: 0, missed: [], false_ones: []}
    count.times { one(sums) }
    sums
  end

  private

  def row(number) = "list/row/#{number}"

  def one(sums)
    stage = CheckedStage.new(@show, @band, @sounds)
    expected = plant(stage)
    # Of a pair with one side the wrong way round the other side would be told too, and rightly.
    partners = expected.select { |_, found| found&.last == ["polarity"] }.keys.flat_map { |n| PAIRS.find { |pair| pair.include?(n) } }
    ((1..12).to_a - partners).sample(3, random: @random).each { |n| stage.console.plant("bleed", row(n), "") unless expected.key?(n) }
    rest = ((1..12).to_a - expected.keys - partners).sample(RIGHT, random: @random)
    [*expected.keys, *rest].shuffle(random: @random).each { |n| compare(sums, n, expected, heard(stage, n)) }
  end

  # @return [Hash{Integer => Array}] by number what must be found
  def plant(stage)
    free = (1..12).to_a
    Array.new(1 + @random.rand(3)) { KINDS.sample(random: @random) }.each_with_object({}) do |kind, expected|
      n = ((kind == "polarity") ? free & PAIRS.flatten : free).sample(random: @random) or next
      other = free.reject { |one| one == n }.sample(random: @random)
      # Who hears it too is told of it too, so nothing else is planted there.
      other = (PAIRS.find { |pair| pair.include?(n) } || []).find { |one| one != n } || other unless kind == "swap"
      next unless free.include?(other)

      stage.console.plant(kind, row(n), (kind == "swap") ? row(other) : "")
      free -= [n, other]
      expected.merge!(must(kind, n, other))
    end
  end

  def must(kind, n, other)
    case kind
    when "swap" then {n => ["elsewhere", other, []], other => ["elsewhere", n, []]}
    # The other side of a pair hears what is tapped at a dead one.
    when "dead", "phantom", "lane" then {n => PAIRS.find { |pair| pair.include?(n) }&.then { |pair| ["elsewhere", (pair - [n]).first, ["partner"]] }}
    else {n => ["right", n, [{"clip" => "clipped"}.fetch(kind, kind)]]}
    end
  end

  def heard(stage, n)
    stage.judged(row(n))&.then { |found| [found[:place], found[:lane], found[:faults].map { |fault| fault[:kind] }] }
  rescue RuntimeError => e
    [e.message]
  end

  def compare(sums, n, expected, found)
    wanted = expected.fetch(n, ["right", n, []])
    kind = expected.key?(n) ? :faults : :right
    sums[kind] += 1
    return (sums[:named] += 1 if kind == :faults) if found == wanted

    (kind == :faults) ? sums[:missed] << [n, wanted, found] : sums[:false_ones] << [n, found]
    sums[:alarms] += 1 if kind == :right
  end
end

# Reading and hearing a ring of noise with a tap now and then.
def share(lanes, seconds: 20)
  Dir.mktmpdir("ear", File.directory?("/dev/shm") ? "/dev/shm" : nil) do |folder|
    ring = Loomshuttle::Rings::CaptureRing.create(File.join(folder, "capture"), lanes: lanes, block_frames: 1024, rate_hz: 48_000, seconds: seconds + 2)
    hearing = Loomshuttle::Earshot::Hearing.new(-> { ring })
    hearing.wanted(3600)
    hearing.turn
    fill(ring, lanes, seconds)
    began = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)
    hearing.turn
    {lanes: lanes, percent_of_a_core: ((Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID) - began) / seconds * 100).round(1), arrivals: hearing.told[:arrivals].size,
     missed: hearing.told[:missed_blocks]}
  end
end

def fill(ring, lanes, seconds)
  (seconds * 48_000 / 1024).times do |n|
    samples = Numo::Int32.cast(Numo::DFloat.new(lanes, 1024).rand_norm(0, 2**31 * 4e-5))
    samples[(n / 47) % lanes, 0...512] += Numo::Int32.cast(Numo::DFloat.new(512).rand_norm(0, 2**31 * 0.1)) if n % 47 == 40
    planar = (0...lanes).map { |lane| Loomshuttle::Audio::Wav::Samples.to_24(samples[lane, true]) }.join
    ring.write(n * 1024, 1, samples.min(axis: 1).to_binary + samples.max(axis: 1).to_binary, planar)
  end
end

case ARGV.first
when "stages"
  sums = RandomStages.new(Integer(ARGV[2] || 1)).run(Integer(ARGV[1] || 500))
  puts JSON.generate(sums.except(:missed, :false_ones)), *sums[:missed].first(20).map(&:inspect), *sums[:false_ones].first(20).map(&:inspect)
when "share" then puts JSON.generate(share(Integer(ARGV[1] || 64)))
else abort "stages [count [seed]] or share [lanes]"
end

# frozen_string_literal: true

# How long the slowest of many damaged WAV files takes, and what memory all of them take:
#   bundle exec ruby bench/damaged.rb
$LOAD_PATH.unshift(File.expand_path("../spec", __dir__))
require_relative "../boot/core"
require "support/damaged_wav"
require "stringio"

times = {}
DamagedWav.each do |name, bytes|
  start_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
  begin
    Loomshuttle::Audio::Inspection.of(StringIO.new(bytes), "damaged.wav")
  rescue Loomshuttle::Audio::Wav::Malformed
    nil
  end
  times[name] = Process.clock_gettime(Process::CLOCK_MONOTONIC) - start_s
end
slowest = times.max_by(&:last)
puts "| damaged files | #{times.size} |", "| slowest, ms (#{slowest.first}) | #{(slowest.last * 1000).round} |", "| most memory, MB | #{File.read("/proc/self/status")[/VmHWM:\s+(\d+)/, 1].to_i / 1024} |"

# frozen_string_literal: true

# Watches whether a core stands still, as cores of machines in the cloud do: one that is always the first to run there
# wakes every 5 ms and says when it came much later. What runs on that core stood just as long, whatever its priority.
#
#   chrt --rr 50 taskset -c 1 ruby bench/still.rb     # lines of JSON: at_s (monotonic), ms
require "json"

EVERY_S = 0.005
TOLD_S = 0.04

before_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
loop do
  sleep EVERY_S
  now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
  late_s = now_s - before_s - EVERY_S
  if late_s > TOLD_S
    $stdout.write("#{JSON.generate(at_s: now_s.round(3), ms: (late_s * 1000).round)}\n")
    $stdout.flush
  end
  before_s = now_s
end

# frozen_string_literal: true

# What every bench measures with.
module Timing
  def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
  def median(values) = values.sort[values.size / 2]
  def p95(values) = values.sort[(values.size * 0.95).floor]

  # @return [Float] milliseconds
  def timed
    began = now_s
    yield
    (now_s - began) * 1000
  end
end

# frozen_string_literal: true

require "simplecov"

# Which lines the specs reach, in every process that they start: COVERAGE=1 bin/test. Each process keeps what it ran;
# spec/lanes.rb lays it together in coverage/.
SimpleCov.start do
  root File.expand_path("../..", __dir__)
  command_name "#{ENV.fetch("LANE", "specs")} #{File.basename($PROGRAM_NAME)} #{Process.pid}"
  add_filter %r{\A/(spec|vendor|bench|tmp)/}
  merge_timeout 3 * 3600
  at_exit { SimpleCov.result }
end

# frozen_string_literal: true

require_relative "support/coverage" if ENV["COVERAGE"]
require "tmpdir"

RSpec.configure do |config|
  config.disable_monkey_patching!
  config.order = :random
  Kernel.srand config.seed
  config.expect_with(:rspec) { |expectations| expectations.max_formatted_output_length = 2000 }
  config.around do |example|
    example.metadata[:tmp] ? Dir.mktmpdir("loomshuttle") { |folder| (@folder = folder) && example.run } : example.run
  end
end

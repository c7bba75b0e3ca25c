# frozen_string_literal: true

require "rspec/core/formatters/console_codes"

# A dot an example and nothing else, for runs of several lanes whose results are told together: see spec/lanes.rb.
class Dots
  RSpec::Core::Formatters.register self, :example_passed, :example_failed, :example_pending

  def initialize(output) = @output = output
  def example_passed(_) = @output.print(".")

  # Into the lane's log as well: whoever waits for the others can look.
  def example_failed(failed)
    @output.print("F")
    warn failed.fully_formatted(1)
  end

  def example_pending(_) = @output.print("*")
end

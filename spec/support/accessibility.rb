# frozen_string_literal: true

require "axe-rspec"

# One run in the page itself. The other way lays parts of the result together in a page of its
# own, which must then load within one second, whatever else the machine is doing. It is for
# pages with frames in them, and ours have none.
Axe::Configuration.instance.legacy_mode = true

# Only what is wrong is asked for: on a page of many rows, telling what is right takes axe longer than finding it.
module OnlyViolations
  def be_axe_clean = super.with_options(resultTypes: ["violations"])
end
RSpec.configure { |config| config.include OnlyViolations }

# frozen_string_literal: true

require_relative "core"

# The rings and the clock page between engine, deck and whoever listens: memory that several
# processes see, each of which may die alone.
module Loomshuttle
  module Rings; end
  load_part("rings", Rings)
end

# frozen_string_literal: true

require_relative "core"
require "prawn"
require "prawn/table"

module Loomshuttle
  module Paper; end
  load_part("paper", Paper)
end

# frozen_string_literal: true

require_relative "paper"
require_relative "engine"
require "fileutils"

module Loomshuttle
  module Cli; end
  load_part("cli", Cli)
end

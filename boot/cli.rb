# frozen_string_literal: true

require_relative "paper"
require "fileutils"

module Loomshuttle
  module Cli; end
  load_part("cli", Cli)
end

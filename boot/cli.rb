# frozen_string_literal: true

module Loomshuttle
  LAZY = true unless const_defined?(:Shelf)
  # Most questions need neither PDF nor sound.
  autoload :Files, File.expand_path("files", __dir__)
  autoload :Paper, File.expand_path("paper", __dir__)
  autoload :Runtime, File.expand_path("runtime", __dir__)
  autoload :Rings, File.expand_path("rings", __dir__)
  autoload :Engine, File.expand_path("engine", __dir__)
end

require_relative "core"
require_relative "enterable"
require "fileutils"

module Loomshuttle
  module Cli; end
  load_part("cli", Cli)
end

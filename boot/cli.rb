# frozen_string_literal: true

require_relative "core"

module Loomshuttle
  module Cli; end
  load_part("cli", Cli)
end

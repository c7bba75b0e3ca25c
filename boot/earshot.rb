# frozen_string_literal: true

# Starts the ear, which says who was heard on which lane. Environment: LOOMSHUTTLE_DATA, LOOMSHUTTLE_RINGS.
require_relative "runtime"
require_relative "rings"

module Loomshuttle
  module Earshot; end
  load_part("earshot", Earshot)
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  shared = Loomshuttle::Rings::Shared.new(ENV.fetch("LOOMSHUTTLE_RINGS"))
  ring = -> { shared.capture }
  Loomshuttle::Earshot::Control.new(Loomshuttle::Earshot::Hearing.new(ring), Loomshuttle::Earshot::Echo.new(ring),
    path: File.join(File.expand_path(ENV.fetch("LOOMSHUTTLE_DATA")), "run/ear.sock"))
  sleep
end

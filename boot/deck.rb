# frozen_string_literal: true

# Starts the deck, which renders what plays. Environment: LOOMSHUTTLE_DATA, LOOMSHUTTLE_RINGS.
require_relative "runtime"
require_relative "rings"
require_relative "files"

module Loomshuttle
  module Deck; end
  load_part("deck", Deck)
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  data = File.expand_path(ENV.fetch("LOOMSHUTTLE_DATA"))
  shared = Loomshuttle::Rings::Shared.new(ENV.fetch("LOOMSHUTTLE_RINGS"))
  player = Loomshuttle::Deck::Player.new(-> { shared.play }, -> { shared.clock })
  Loomshuttle::Deck::Control.new(player, path: File.join(data, "run/deck.sock"), programs: Loomshuttle::Files::Programs.new(data), shared: shared,
    memory_path: File.join(data, "run/deck.json"))
  sleep
end

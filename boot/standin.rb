# frozen_string_literal: true

# Starts the simulated desk and stage:  ruby boot/standin.rb [SHOW.loom.json]
# Ports come from LOOMSHUTTLE_AUDIO_PORT and LOOMSHUTTLE_OSC_PORT.
require_relative "core"

module Loomshuttle
  module Standin; end
  load_part("standin", Standin)
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  file = ARGV.fetch(0, File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json"))
  show = Loomshuttle::Exchange::ShowFile.new(schema: Loomshuttle::Shelf.show_schema, profiles: Loomshuttle::Shelf.profiles).parse(File.read(file))
  state = ENV["LOOMSHUTTLE_DATA"] && File.join(ENV["LOOMSHUTTLE_DATA"], "run/desk.json")
  show = show.with(patch: Loomshuttle::Exchange::ShowFile.patch(JSON.parse(File.read(state)))) if state && File.exist?(state)
  Loomshuttle::Standin::Runner.new(show, audio_port: Integer(ENV.fetch("LOOMSHUTTLE_AUDIO_PORT")), control_port: Integer(ENV.fetch("LOOMSHUTTLE_OSC_PORT")),
    wire_log: ENV["LOOMSHUTTLE_WIRE_LOG"], state_path: state).run
end

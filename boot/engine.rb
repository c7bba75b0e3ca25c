# frozen_string_literal: true

# Starts the audio engine. Environment: LOOMSHUTTLE_DATA, LOOMSHUTTLE_AUDIO_PORT (the
# device), LOOMSHUTTLE_ENGINE_PORT (control).
require_relative "core"

module Loomshuttle
  module Engine; end
  load_part("engine", Engine)
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  data = ENV.fetch("LOOMSHUTTLE_DATA")
  device = Loomshuttle::Engine::Device::SocketDevice.new(port: Integer(ENV.fetch("LOOMSHUTTLE_AUDIO_PORT")))
  runner = Loomshuttle::Engine::Runner.new(device, takes_folder: File.join(data, "takes"))
  Loomshuttle::Engine::ControlSocket.new(runner, port: Integer(ENV.fetch("LOOMSHUTTLE_ENGINE_PORT")), data_folder: data)
  # Ending in good order closes a running take.
  trap("TERM") { Thread.new { runner.stop_recording("the engine was ended") && exit || exit } }
  runner.run
end

# frozen_string_literal: true

# Starts the audio engine. Environment: LOOMSHUTTLE_DATA, LOOMSHUTTLE_CARD (the simulated
# card's socket), LOOMSHUTTLE_RINGS (a folder in memory), LOOMSHUTTLE_PLACES (folders for second copies,
# separated by colons), LOOMSHUTTLE_ALSA (ALSA's PCMs beside its cards, separated by commas).
require_relative "kept_file"
require_relative "runtime"
require_relative "rings"

module Loomshuttle
  module Engine
    # @return [Array] runner and its control, not yet running
    def self.from_environment(env)
      data = File.expand_path(env.fetch("LOOMSHUTTLE_DATA"))
      takes = File.join(data, "takes")
      places = Places.new(takes, more: env.fetch("LOOMSHUTTLE_PLACES", "").split(":"))
      devices = Devices.new(standin_path: env.fetch("LOOMSHUTTLE_CARD"), chosen_path: File.join(data, "run/device.json"),
        alsa_names: env.fetch("LOOMSHUTTLE_ALSA", "").split(","))
      faults = Faults.new
      runner = Runner.new(devices.chosen { |words| faults.add("device", words) }, faults: faults, takes_folder: takes, rings: RingFolder.new(env.fetch("LOOMSHUTTLE_RINGS")), places: places)
      [runner, Control.new(runner, path: File.join(data, "run/engine.sock"), takes_folder: takes, places: places, devices: devices)]
    end
  end
  load_part("engine", Engine)
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  runner, = Loomshuttle::Engine.from_environment(ENV)
  # Ending in good order closes a running take.
  trap("TERM") { Thread.new { runner.recorder.stop("the engine was ended") && exit || exit } }
  runner.run
end

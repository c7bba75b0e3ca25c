# frozen_string_literal: true

# Starts the simulated desk and stage:  ruby boot/standin.rb [SHOW.loom.json]
# The card is a socket at LOOMSHUTTLE_CARD, control a port, LOOMSHUTTLE_OSC_PORT. With LOOMSHUTTLE_STANDIN_SPEED its clock
# runs so many times as fast.
require_relative "core"
require_relative "runtime"

module Loomshuttle
  module Standin
    # What the desk had when it was switched off, be it half of a change. A memory that cannot be read is put aside:
    # the desk comes up as new, and the server sees that it differs from the plan.
    #
    # @return [Show, nil]
    def self.remembered(codec, path)
      (path && File.exist?(path)) ? codec.parse(File.read(path), rules: false) : nil
    rescue BadInput => e
      warn "The desk's memory is put aside as #{path}.unusable: #{e.message}"
      File.rename(path, "#{path}.unusable")
      nil
    end
  end
  load_part("standin", Standin)
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  codec = Loomshuttle::Shelf.show_file
  state = ENV["LOOMSHUTTLE_DATA"] && File.join(ENV["LOOMSHUTTLE_DATA"], "run/desk.loom.json")
  show = Loomshuttle::Standin.remembered(codec, state) || codec.parse(File.read(ARGV.fetch(0, File.join(Loomshuttle::ROOT, "demo/lanterns.loom.json"))))
  Loomshuttle::Standin::Runner.new(show,
    card_path: ENV.fetch("LOOMSHUTTLE_CARD"),
    control_port: Integer(ENV.fetch("LOOMSHUTTLE_OSC_PORT")),
    codec: codec,
    wire_log: ENV["LOOMSHUTTLE_WIRE_LOG"],
    state_path: state,
    speed: Float(ENV.fetch("LOOMSHUTTLE_STANDIN_SPEED", "1")),
    kept_in: File.join(Loomshuttle::ROOT, "tmp")).run
end

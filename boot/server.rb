# frozen_string_literal: true

# The web server's part: server/config.ru loads it.
require_relative "paper"
require_relative "runtime"
require_relative "files"
require "cgi"
require "sequel"

module Loomshuttle
  module Server
    # @return [Context] from the environment (see boot/services.rb)
    def self.context
      Context.new(database: Store::Database.connect(ENV.fetch("DATABASE_URL")),
        codec: Exchange::ShowFile.new(schemas: Shelf.show_schemas, profiles: Shelf.profiles), data_folder: ENV.fetch("LOOMSHUTTLE_DATA"),
        engine_socket: File.join(ENV.fetch("LOOMSHUTTLE_DATA"), "run/engine.sock"),
        deck_socket: File.join(ENV.fetch("LOOMSHUTTLE_DATA"), "run/deck.sock"), osc_port: Integer(ENV.fetch("LOOMSHUTTLE_OSC_PORT")))
    end
  end
  load_part("server", Server)
end

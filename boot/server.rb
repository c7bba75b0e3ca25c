# frozen_string_literal: true

# The web server's part: server/config.ru loads it.
require_relative "paper"
require "cgi"
require "sequel"

module Loomshuttle
  module Server
    # @return [Context] from the environment (see boot/services.rb)
    def self.context
      Context.new(database: Store::Database.connect(ENV.fetch("DATABASE_URL")),
        codec: Exchange::ShowFile.new(schema: Shelf.show_schema, profiles: Shelf.profiles), data_folder: ENV.fetch("LOOMSHUTTLE_DATA"),
        engine_port: Integer(ENV.fetch("LOOMSHUTTLE_ENGINE_PORT")), osc_port: Integer(ENV.fetch("LOOMSHUTTLE_OSC_PORT")))
    end
  end
  load_part("server", Server)
end

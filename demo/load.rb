# frozen_string_literal: true

# Loads the demo show into an empty database and makes its stems:  ruby demo/load.rb
require_relative "../boot/server"
require_relative "lanterns"
require_relative "stems"

module Loomshuttle
  database = Server::Store::Database.connect(ENV.fetch("DATABASE_URL"))
  codec = Exchange::ShowFile.new(schema: Shelf.show_schema, profiles: Shelf.profiles)
  shows = Server::Store::Shows.new(database, codec)
  shows.create(Demo.show) unless shows.first_id
  Demo::Stems.write(File.join(ENV.fetch("LOOMSHUTTLE_DATA"), "songs"))
end

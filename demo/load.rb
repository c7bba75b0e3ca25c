# frozen_string_literal: true

# Loads the demo show into an empty database and makes its stems:  ruby demo/load.rb [--take]
# With --take it also records a take of it, where the show is new.
require_relative "../boot/server"
require_relative "lanterns"
require_relative "stems"

module Loomshuttle
  data = ENV.fetch("LOOMSHUTTLE_DATA")
  database = Server::Store::Database.connect(ENV.fetch("DATABASE_URL"))
  codec = Exchange::ShowFile.new(schemas: Shelf.show_schemas, profiles: Shelf.profiles)
  shows = Server::Store::Shows.new(database, codec)
  unless shows.first_id
    show_id = shows.create(Demo.show)
    if ARGV.include?("--take")
      require_relative "rehearsal"
      Demo::Rehearsal.new(Demo.show(Demo.mended), show_id).record(File.join(data, "takes"))
    end
  end
  Demo::Stems.write(File.join(data, "songs"))
end

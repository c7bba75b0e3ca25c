# frozen_string_literal: true

# Loads the demo show into an empty database, puts it on air and makes its stems:  ruby demo/load.rb [--take]
# With --take it also records a take of it, where the show is new.
require_relative "../boot/server"
require_relative "lanterns"
require_relative "set"

module Loomshuttle
  data = ENV.fetch("LOOMSHUTTLE_DATA")
  database = Server::Store::Database.connect(ENV.fetch("DATABASE_URL"), keep: File.join(data, "backups"))
  changes = Server::Changes.new(database)
  shows = Server::Store::Shows.new(database, Server::Assembly.codec, changes)
  if database[:shows].empty?
    show_id = shows.create(Demo.show(Demo::Set.of(Demo.data)))
    Server::Store::OnAir.new(database, changes).put(show_id, follows: true)
    if ARGV.include?("--take")
      require_relative "rehearsal"
      Demo::Rehearsal.new(Demo.show(Demo.mended), shows.place(show_id)).record(File.join(data, "takes"))
    end
  end
  [Demo::Stems, Demo::Set].each { |songs| songs.write(File.join(data, "songs")) }
end

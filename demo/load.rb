# frozen_string_literal: true

# Loads the demo show into an empty database, puts it on air and makes its stems:  ruby demo/load.rb [--whole]
# With --whole it has all songs of the evening, a take of it is recorded and a second show lies beside it, where the show is new.
require_relative "../boot/server"
require "open3"
require_relative "lanterns"
require_relative "barn"
require_relative "set"

module Loomshuttle
  data = ENV.fetch("LOOMSHUTTLE_DATA")
  database = Server::Store::Database.connect(ENV.fetch("DATABASE_URL"), keep: File.join(data, "backups"))
  changes = Server::Changes.new(database)
  whole = ARGV.include?("--whole")
  shows = Server::Store::Shows.new(database, Server::Assembly.codec, changes)
  [Demo::Stems, *(Demo::Set if whole)].each { |songs| songs.write(File.join(data, "songs")) }
  if database[:shows].empty?
    Demo::Set.draw(Demo::Set.of(Demo.data), File.join(data, "songs")) if whole
    show_id = shows.create(Demo.show(whole ? Demo::Set.measured(Demo::Set.of(Demo.data), File.join(data, "songs")) : Demo.data))
    Server::Store::OnAir.new(database, changes).put(show_id, follows: true)
    if whole
      require_relative "rehearsal"
      Demo::Rehearsal.new(Demo.show(Demo.mended), shows.place(show_id)).record(File.join(data, "takes"))
      shows.create(Demo.show(Demo::Barn.data))
    end
  end
end

# frozen_string_literal: true

# Puts an empty show into a database that has none.
require_relative "server"

module Loomshuttle
  codec = Exchange::ShowFile.new(schemas: Shelf.show_schemas, profiles: Shelf.profiles)
  shows = Server::Store::Shows.new(Server::Store::Database.connect(ENV.fetch("DATABASE_URL")), codec)
  shows.create(codec.build({"version" => 2, "name" => "New show", "venue" => "", "sample_rate_hz" => 48_000, "devices" => [], "patch" => {}})) unless shows.first_id
end

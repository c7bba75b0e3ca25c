# frozen_string_literal: true

require "sequel"

module Loomshuttle
  module Server
    module Store
      # Connects to PostgreSQL and brings its tables up to date. The files in db/ are run
      # once each, in the order of their numbers, each in one transaction.
      module Database
        MIGRATIONS = File.expand_path("../../db", __dir__)
        private_constant :MIGRATIONS

        module_function

        # @param url [String] postgres://...
        # @return [Sequel::Database]
        def connect(url)
          database = Sequel.connect(url, max_connections: 8)
          database.extension(:pg_json, :pg_array, :connection_validator)
          Sequel.extension(:pg_array_ops)
          # A connection that a restart of the database broke is replaced before it is used.
          database.pool.connection_validation_timeout = -1
          database.wrap_json_primitives = true
          migrate(database)
          database
        end

        def migrate(database)
          database.run("CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY)")
          Dir[File.join(MIGRATIONS, "*.sql")].sort.each do |path|
            name = File.basename(path)
            database.transaction do
              database.run("LOCK TABLE migrations IN EXCLUSIVE MODE")
              next if database[:migrations].where(name: name).any?

              database.run(File.read(path))
              database[:migrations].insert(name: name)
            end
          end
        end
        private_class_method :migrate
      end
    end
  end
end

# frozen_string_literal: true

require "sequel"

module Loomshuttle
  module Server
    module Store
      # Connects to PostgreSQL and brings its tables up to date. The files in db/ are run
      # once each, in the order of their numbers, each in one transaction.
      module Database
        MIGRATIONS = File.expand_path("../../db", __dir__)
        # The number of our lock among those of the database; any will do.
        MIGRATING = 4_600
        private_constant :MIGRATIONS, :MIGRATING

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

        # One process at a time: "IF NOT EXISTS" alone does not keep two from making the same
        # table at the same moment.
        def migrate(database)
          database.synchronize do
            database.run("SELECT pg_advisory_lock(#{MIGRATING})")
            database.run("CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY)")
            done = database[:migrations].select_map(:name)
            Dir[File.join(MIGRATIONS, "*.sql")].sort.reject { |path| done.include?(File.basename(path)) }.each { |path| run_file(database, path) }
          ensure
            database.run("SELECT pg_advisory_unlock(#{MIGRATING})")
          end
        end

        def run_file(database, path)
          database.transaction do
            database.run(File.read(path))
            database[:migrations].insert(name: File.basename(path))
          end
        end
        private_class_method :migrate, :run_file
      end
    end
  end
end

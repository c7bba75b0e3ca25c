# frozen_string_literal: true

require "fileutils"
require "open3"
require "sequel"

module Loomshuttle
  module Server
    module Store
      # Connects to PostgreSQL and brings its tables up to date: the files in db/ are run once each,
      # in the order of their numbers, each in one transaction, by one process at a time.
      module Database
        MIGRATIONS = File.expand_path("../../db", __dir__)
        # Ours among the locks of the database; any number will do.
        MIGRATING = 4_600
        private_constant :MIGRATIONS, :MIGRATING

        module_function

        # @param url [String] postgres://...
        # @param keep [String, nil] folder for a dump of tables of an older version, before they are changed
        # @return [Sequel::Database]
        def connect(url, keep: nil)
          database = Sequel.connect(url, max_connections: 16)
          database.extension(:pg_json, :pg_array, :connection_validator)
          Sequel.extension(:migration, :pg_array_ops)
          # A connection that a restart of the database broke is replaced before it is used.
          database.pool.connection_validation_timeout = -1
          database.wrap_json_primitives = true
          migrate(database) { |version| dump(url, keep, version) if keep }
          database
        end

        def migrate(database)
          database.with_advisory_lock(MIGRATING, wait: true) do
            adopt(database)
            old = database.table_exists?(:schema_info) ? database[:schema_info].get(:version) : 0
            yield old if old.positive? && !Sequel::Migrator.is_current?(database, MIGRATIONS)
            Sequel::Migrator.run(database, MIGRATIONS)
          end
        end

        # Up to November 2026 a table of file names said which had been run. They were run in the order of
        # their numbers, so how many there are is the version.
        def adopt(database)
          database.transaction do
            next unless database.table_exists?(:migrations)

            database.create_table?(:schema_info) { Integer :version, default: 0, null: false }
            database[:schema_info].delete
            database[:schema_info].insert(version: database[:migrations].count)
            database.drop_table(:migrations)
          end
        end

        # As pg_restore takes it; whoever wants to go back needs nothing else.
        def dump(url, folder, version)
          FileUtils.mkdir_p(folder, mode: 0o700)
          path = File.join(folder, Time.now.strftime("before-version-#{version + 1}-%Y%m%d-%H%M%S.dump"))
          output, status = Open3.capture2e("#{Cluster::BIN}/pg_dump", "-Fc", "-d", url, "-f", path)
          raise "The database could not be backed up before it is brought up to date, so it is left as it is: #{output.lines.last}" unless status.success?
        end
        private_class_method :adopt, :dump
      end
    end
  end
end

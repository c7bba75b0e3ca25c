# frozen_string_literal: true

# The worker's part: long work, in a process of its own at low priority. More than one may run, on this
# machine or on others that see the same data folder and database.
#
#   LOOMSHUTTLE_WORKERS   how many jobs at once, else 2
#
# What is not needed is not loaded: it waits most of the time.
module Loomshuttle
  LAZY = true
end
require_relative "server"

module Loomshuttle
  module Worker
    # Seconds between two looks at the queue; mostly it is told.
    POLL_S = 5.0

    module_function

    def parts(environment)
      data = environment.fetch("LOOMSHUTTLE_DATA")
      database = Server::Store::Database.connect(environment.fetch("DATABASE_URL"), keep: File.join(data, "backups"))
      changes = Server::Changes.new(database)
      Server::Jobs::Job::Parts.new(database: database, **Server::Assembly.stores(database, changes).slice(:tasks, :shows, :takes, :imports, :songs, :history),
        takes_folder: File.join(data, "takes"), data_folder: data, show_file: Server::Assembly.codec)
    end

    # Ends when it is told to: jobs that run are broken off and begin again elsewhere.
    def run(environment)
      Server::Jobs::Job.parts = parts(environment)
      Que.logger = nil
      count = Integer(environment.fetch("LOOMSHUTTLE_WORKERS", "2"))
      # One is kept for what somebody waits for, where there are several.
      Que::Locker.new(connection_url: environment.fetch("DATABASE_URL"), poll_interval: POLL_S, worker_priorities: [*([Server::Jobs::Job::WAITED_FOR] if count > 1), *Array.new([count - 1, 1].max)])
      trap("TERM") { exit!(0) }
      sleep
    end
  end
end

Loomshuttle::Worker.run(ENV) if $PROGRAM_NAME == __FILE__

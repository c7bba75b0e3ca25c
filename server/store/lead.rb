# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Of several server processes on one database one leads: it holds a lock of the database as long as its
      # line to it stands. When it is gone, another takes over within a second.
      class Lead
        LOCK = 4_601
        TURN_S = 0.5
        private_constant :LOCK, :TURN_S

        # @yield when this process has become the one
        def initialize(database, &begins)
          @database, @begins = database, begins
          @mine = false
          @loop = Runtime::Loop.start("lead", pause_s: TURN_S) { hold }
        end

        def mine? = @mine
        def stop = @loop.kill.join

        private

        # One line of its own, kept for as long as it holds the lock.
        def hold
          @database.synchronize do
            next unless @database.get(Sequel.function(:pg_try_advisory_lock, LOCK))

            @mine = true
            @begins&.call
            watch
          ensure
            @mine = false
          end
        end

        def watch
          loop do
            sleep TURN_S
            @database.get(1)
          end
        end
      end
    end
  end
end

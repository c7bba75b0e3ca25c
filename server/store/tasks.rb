# frozen_string_literal: true

require "que"

module Loomshuttle
  module Server
    module Store
      # What the worker is asked to do, how far it is, and what became of it. A task's job is put into the
      # queue in the transaction that makes the task, with whatever else is written there.
      class Tasks
        # Of what is over: what a page lists.
        LISTED = 30
        COLUMNS = %i[id kind subject show_id done of unit state words made_at begun_at ended_at].freeze
        OPEN = %w[waiting running stopping].freeze
        # A task that is broken off so often (a file that ends the worker) is given up.
        STARTS_MAX = 5
        private_constant :LISTED, :COLUMNS, :OPEN, :STARTS_MAX

        def initialize(database, changes = Changes.new(database))
          @database, @changes = database, changes
          Que.connection = database
        end

        # @param kind [String] names its job, see Jobs::KINDS
        # @param subject [String] what it is about, for people
        # @param args [Hash] plain
        # @return [Integer] id
        def begin(kind, subject, show_id: nil, **args)
          @database.transaction do
            id = @database[:tasks].insert(kind: kind, subject: subject[0, 300], show_id: show_id, args: Sequel.pg_jsonb(args))
            enqueue(kind, id)
            id
          end
        end

        # @return [Array<Hash>] what is under way, and what failed or is over since, newest first
        def list
          open = @database[:tasks].where(state: OPEN).reverse(:id)
          over = @database[:tasks].exclude(state: OPEN).where(seen: false).where { ended_at > Sequel.lit("now() - interval '1 day'") }.reverse(:id).limit(LISTED)
          [*open.select(*COLUMNS), *over.select(*COLUMNS)].map { |row| data(row) }
        end

        # @raise [BadInput]
        def find(id) = data(row(id))

        # The worker takes one up.
        #
        # @return [Hash, nil] with :args and :state, which may be "stopping"; nil where nobody wants it any more
        def take_up(id)
          task = @database[:tasks].where(id: id).first
          return unless task && OPEN.include?(task[:state])
          return task.merge(args: task[:args].to_h) if task[:state] == "stopping"
          return failed(id, "It was broken off #{STARTS_MAX} times; something in it ends the worker.") && nil if task[:starts] >= STARTS_MAX

          change(id, state: "running", starts: task[:starts] + 1, done: 0, begun_at: Sequel::CURRENT_TIMESTAMP)
          task.merge(args: task[:args].to_h)
        end

        # @return [Boolean] false where somebody wants it stopped
        def progress(id, done, of, unit) = change(id, done: done, of: of, unit: unit) { |tasks| tasks.where(state: "running") } > 0

        def wanted?(id) = @database[:tasks].where(id: id, state: "running").any?

        # @param kind [String]
        # @return [Boolean] whether anything of another kind is at work
        def others?(kind) = @database[:tasks].where(state: "running").exclude(kind: kind).any?

        # Written with what the task was for, in one transaction.
        def done(id, words = "") = ended(id, "done", words)

        def failed(id, words) = ended(id, "failed", words)
        def stopped(id) = ended(id, "stopped", "")

        # Asks for an end: at once where it waits, else as soon as its job looks.
        #
        # @raise [BadInput]
        def stop(id)
          row(id)
          @database.transaction do
            ended(id, "stopped", "") { |tasks| tasks.where(state: "waiting") }
            change(id, state: "stopping") { |tasks| tasks.where(state: "running") }
          end
        end

        # @raise [BadInput] for one that did not fail
        def again(id)
          @database.transaction do
            task = @database[:tasks].where(id: id).for_update.first
            raise BadInput.new(field: "task", value: id, allowed: "a task that failed or was stopped") unless task && %w[failed stopped].include?(task[:state])

            change(id, state: "waiting", words: "", starts: 0, done: 0, ended_at: nil, begun_at: nil, seen: false)
            enqueue(task[:kind], id)
          end
        end

        # Somebody has seen what became of it.
        def see(id) = change(id, seen: true) { |tasks| tasks.exclude(state: OPEN) } > 0

        private

        def enqueue(kind, id)
          Jobs::KINDS.fetch(kind).enqueue(id)
          @changes.say("tasks", id: id)
        end

        def ended(id, state, words, &) = change(id, state: state, words: words[0, 1000], ended_at: Sequel::CURRENT_TIMESTAMP, &)

        def change(id, **columns)
          @database.transaction do
            tasks = @database[:tasks].where(id: id)
            tasks = yield tasks if block_given?
            tasks.update(columns).tap { |count| @changes.say("tasks", id: id) if count > 0 }
          end
        end

        def row(id)
          @database[:tasks].where(id: id).select(*COLUMNS).first or raise BadInput.new(field: "task", value: id, allowed: "a task that is there")
        end

        # Time left by what the work took so far; nil before anything can be said.
        def data(row)
          row.merge(left_s: left_s(row), **%i[made_at begun_at ended_at].to_h { |name| [name, row[name]&.utc&.iso8601] })
        end

        def left_s(row)
          return unless row[:state] == "running" && row[:of].to_i > 0 && row[:done] > 0

          ((Time.now - row[:begun_at]) * (row[:of] - row[:done]) / row[:done]).round
        end
      end
    end
  end
end

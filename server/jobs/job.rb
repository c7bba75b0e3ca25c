# frozen_string_literal: true

require "etc"
require "parallel"
require "que"

module Loomshuttle
  module Server
    module Jobs
      # What all jobs share: a task taken up, its progress told, its end written down.
      #
      #   class Count < Job
      #     def work(args)
      #       10.times { |n| step(n, 10, "numbers") }
      #       finish { parts.numbers.keep(10) }
      #     end
      #   end
      class Job < Que::Job
        # Somebody does not want it any more.
        class Stopped < StandardError; end

        # Faults of the work are told and end the task; what remains is a database that does not answer, which
        # is asked again.
        self.maximum_retry_count = 10_000
        self.retry_interval = 2

        # In Que's order lower goes first: what somebody waits for, and what comes by itself.
        WAITED_FOR, BY_ITSELF = 100, 200
        self.priority = WAITED_FOR

        # Progress is told this often.
        TELL_S = 0.3
        # So many files at once; engine and server come first all the same, for the worker is nice.
        AT_ONCE = Etc.nprocessors
        private_constant :TELL_S, :AT_ONCE

        class << self
          # @return [Parts] what jobs work with, set once by the process that runs them
          attr_accessor :parts
        end

        # database, tasks, and whatever the jobs need.
        Parts = Value.of(:database, :tasks, :shows, :takes, :imports, :songs, :history, :takes_folder, :data_folder, :show_file)

        def run(task_id)
          @task_id = task_id
          task = tasks.take_up(task_id)
          return destroy unless task

          prepare(task[:args])
          raise Stopped if task[:state] == "stopping"

          work(task[:args])
        rescue Stopped
          ended { withdrawn || tasks.stopped(task_id) }
        rescue Sequel::DatabaseConnectionError, Sequel::DatabaseDisconnectError
          raise
        rescue => e
          warn "#{self.class.name}: #{e.full_message(highlight: false)}" unless e.is_a?(BadInput)
          ended { broken || tasks.failed(task_id, words_of(e)) }
        end

        private

        def parts = Job.parts
        def tasks = parts.tasks

        # Learns what the task is about.
        #
        # @param args [Hash] string keys
        def prepare(args) = nil

        # Takes away what the work has made so far; called before a task is said to have ended without effect.
        def clear = nil

        # What else is written down where somebody stopped it, and where it failed; answers nil.
        def withdrawn = nil
        def broken = nil

        # Asked of the database now and then, however often it is wanted to be known.
        #
        # @raise [Stopped] where somebody does not want it any more
        def go_on!
          now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          return if @asked_s && now_s - @asked_s < TELL_S

          @asked_s = now_s
          raise Stopped unless tasks.wanted?(@task_id)
        end

        # @param done, of [Integer]
        # @raise [Stopped]
        def step(done, of, unit)
          now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          return if @told_s && now_s - @told_s < TELL_S && done < of

          @told_s = now_s
          raise Stopped unless tasks.progress(@task_id, done, of, unit)
        end

        # Does the same to each of several files, as many at once as the machine has cores; told as they are done.
        #
        # @param done, of [Integer] with what was and is to be done besides
        # @return [Array] what the block answers, in the order of the files
        # @raise [Stopped]
        def each_file(files, done: 0, of: files.size) = each_handful(files.map { |file| [file] }, done: done, of: of) { |(file)| [yield(file)] }

        # The same where several are done together.
        #
        # @param handfuls [Array<Array>]
        # @yieldreturn [Array] an answer for each file of the handful
        # @return [Array] the answers, in the order of the files
        # @raise [Stopped]
        def each_handful(handfuls, done: 0, of: handfuls.sum(&:size))
          lock = Mutex.new
          step(done, of, "files")
          Parallel.flat_map(handfuls, in_threads: AT_ONCE) do |handful|
            yield(handful).tap { lock.synchronize { step(done += handful.size, of, "files") } }
          end
        end

        # The effect, the task's end and the job's in one transaction.
        #
        # @yield writes the effect
        # @raise [Stopped] where somebody stopped it before that
        def finish(words = "")
          parts.database.transaction do
            raise Stopped unless tasks.wanted?(@task_id)

            yield
            tasks.done(@task_id, words)
            destroy
          end
        end

        def words_of(error)
          return error.message if error.is_a?(BadInput) || error.is_a?(SystemCallError)

          "Something went wrong in the worker (#{error.class}); its log says more."
        end

        def ended
          clear
          parts.database.transaction do
            yield
            destroy
          end
        end

        # Runs a program of this machine at low priority; stopped with its task.
        #
        # @return [String] what it wrote to its standard error
        # @raise [BadInput] when it fails, with its last words
        # @raise [Stopped]
        def program(*command, field:)
          read, write = IO.pipe
          pid = spawn(*command, in: File::NULL, out: File::NULL, err: write)
          write.close
          output = +""
          loop do
            output << read.readpartial(4096) if read.wait_readable(TELL_S)
            go_on!
          end
        rescue EOFError
          _, status = Process.wait2(pid)
          pid = nil
          raise BadInput.new(field: field, value: output.lines.last.to_s.strip[0, 200], allowed: "a file that #{command.first} can read") unless status.success?

          output
        ensure
          read&.close
          kill(pid) if pid
        end

        def kill(pid)
          Process.kill("KILL", pid)
          Process.wait(pid)
        rescue SystemCallError
          nil
        end
      end
    end
  end
end

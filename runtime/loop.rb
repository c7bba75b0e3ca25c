# frozen_string_literal: true

module Loomshuttle
  module Runtime
    # A thread that goes round and is never lost unseen: every thread of engine, deck, server
    # and stand-in that lives as long as its process is one of these.
    #
    #   Loop.start("tend", pause_s: 0.1, tell: faults) { watch_the_disk }
    #
    # A turn that raises is told and tried again after `retry_s`; a turn that answers DONE ends
    # the loop. What is no StandardError (no memory, a broken stack) ends the process, which its
    # supervisor starts again: half a process is worse than none.
    module Loop
      # What a turn answers that is to be the last.
      DONE = Object.new.freeze
      # A thread that computes lets others wait for 100 ms, Ruby's slice; at this priority for 12. The
      # one thread of a process that must not wait, the engine's block loop, is none of these.
      PRIORITY = -3
      # The same words again are told once in so many seconds.
      REPEAT_S = 10
      private_constant :REPEAT_S

      module_function

      # @param name [String] of the thread, for whoever reads a log or a fault
      # @param pause_s [Numeric] between two turns
      # @param retry_s [Numeric] after a turn that raised
      # @param tell [#call, nil] is given (name, error) of a turn that raised
      # @return [Thread]
      def start(name, pause_s: 0, retry_s: 0.5, tell: nil, &turn)
        Thread.new do
          Thread.current.name = name
          Thread.current.priority = PRIORITY
          Thread.current.abort_on_exception = true
          go_round(name, pause_s, retry_s, Told.new(tell), turn)
        end
      end

      # Says what went wrong, and the same thing not forty times a second.
      class Told
        def initialize(tell)
          @tell = tell
          @last = {}
        end

        def call(name, error)
          words = "#{error.class}: #{error.message}"
          now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          return if @last[words] && now_s - @last[words] < REPEAT_S

          @last = {words => now_s}
          warn "#{name}: #{words}", *error.backtrace&.first(6)
          @tell&.call(name, error)
        rescue => e
          # Telling must not end what it tells of.
          warn "#{name}: could not be told: #{e.message}"
        end
      end
      private_constant :Told

      def go_round(name, pause_s, retry_s, told, turn)
        loop do
          begin
            break if turn.call.equal?(DONE)
          rescue => e
            told.call(name, e)
            sleep retry_s
          end
          sleep pause_s if pause_s > 0
        end
      end
      private_class_method :go_round
    end
  end
end

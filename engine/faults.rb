# frozen_string_literal: true

module Loomshuttle
  module Engine
    # What went wrong in this engine, for everybody to be told: kept in its status until it
    # ends, the newest last. The server makes standing alarms of it.
    class Faults
      # Older ones are dropped; by then the server has them.
      KEPT = 50
      private_constant :KEPT

      def initialize(utc: -> { Time.now })
        @utc = utc
        @lock = Mutex.new
        @faults = []
        @engine = format("%x-%x", Process.pid, utc.call.to_i)
        @count = 0
      end

      # @param about [String] e.g. "disk", "journal", "sync"
      def add(about, words)
        @lock.synchronize do
          @count += 1
          @faults << {key: "engine/#{@engine}/#{@count}", about: about, words: words, at: @utc.call.utc.iso8601(3)}
          @faults.shift if @faults.size > KEPT
        end
      end

      # For Runtime::Loop's `tell`.
      def call(name, error) = add(name, "#{error.class}: #{error.message}")
      def to_a = @lock.synchronize { @faults.dup }
    end
  end
end

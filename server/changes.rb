# frozen_string_literal: true

module Loomshuttle
  module Server
    # What was changed in the database, told to every server process on it in the order in which it was
    # kept: said within a transaction (NOTIFY), it goes out when that is committed, or never.
    #
    #   changes.on("show") { |told| hub.publish("show", told) }
    #   database.transaction { ...; changes.say("show", id: 3, version: 7) }
    class Changes
      CHANNEL = "loomshuttle"
      # Topic that is told when the line to the database broke: what was said meanwhile nobody heard here.
      MISSED = "missed"
      TURN_S = 1
      private_constant :CHANNEL, :TURN_S

      def initialize(database)
        @database = database
        @listeners = Hash.new { |all, topic| all[topic] = [] }
      end

      # @param topic [String]
      # @param data [Hash] plain and short: a notification holds 8,000 bytes
      def say(topic, **data) = @database.notify(CHANNEL, payload: JSON.generate([topic, data]))

      # @param topics [Array<String>]
      # @yield [Hash, String] what was said, keys as symbols, and the topic; on one thread, in order
      def on(*topics, &listener)
        topics.each { |topic| @listeners[topic] << listener }
      end

      # Hears from here on.
      def listen
        @loop ||= Runtime::Loop.start("changes", retry_s: 0.5) { hear }
      end

      def stop = @loop&.kill&.join

      private

      # Ends only by a fault. Whoever asked before the line stood knows nothing of what came in between.
      def hear
        @database.listen(CHANNEL, after_listen: ->(_) { stands }, loop: true, timeout: TURN_S) do |_, _, payload|
          topic, data = JSON.parse(payload, symbolize_names: true)
          tell(topic, data)
        end
      end

      def stands
        tell(MISSED, {}) if @heard
        @heard = true
      end

      # One listener that fails does not keep the others from hearing.
      def tell(topic, data)
        @listeners.fetch(topic, []).each do |listener|
          listener.call(data, topic)
        rescue => e
          warn "changes: #{topic}: #{e.class}: #{e.message}", *e.backtrace&.first(4)
        end
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    # What the deck says of what it could not play becomes an alarm, which stays until somebody has seen it.
    class DeckAlarms
      # @param deck [Links::ControlLink]
      # @param alarms [Store::Alarms]
      def initialize(deck, alarms)
        @deck, @alarms = deck, alarms
        @known = []
      end

      # Called with each frame. A database that does not answer is asked again with the next one.
      def look
        faults = @deck.last("deck")&.fetch("faults", nil).to_a
        faults.reject { |fault| @known.include?(fault["key"]) }.each { |fault| @alarms.raise_alarm(fault["key"], about: fault["about"], words: fault["words"], at: fault["at"]) }
        @known = faults.map { |fault| fault["key"] }
      rescue Sequel::Error
        nil
      end
    end
  end
end

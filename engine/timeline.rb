# frozen_string_literal: true

module Loomshuttle
  module Engine
    # What was asked of a running take, each at its device frame, in the order in which it was
    # asked. Each place that the take is written to reads it with a position of its own.
    class Timeline
      Event = Struct.new(:frame, :kind, :facts)

      # @param end_frame [Integer, nil] where the take ends by itself
      def initialize(end_frame: nil)
        @end_frame = end_frame
        @events = []
        @lock = Mutex.new
      end

      def add(frame, kind, **facts)
        @lock.synchronize { @events << Event.new(frame, kind, facts) }
      end

      # What was asked for behind the end does not happen.
      def stop_at(frame, reason)
        @reason ||= reason
        @asked_frame ||= frame
      end

      # @return [Integer, nil] frame at which the take ends
      def stop_frame = [@asked_frame, @end_frame].compact.min
      # @return [String, nil] why
      def reason = @reason || (@end_frame && "it was to be so long")

      # @return [Event, nil]
      def at(index) = @lock.synchronize { @events[index] }
      def size = @lock.synchronize { @events.size }
    end
  end
end

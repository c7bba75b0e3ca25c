# frozen_string_literal: true

module Loomshuttle
  module Server
    # Keeps an eye on the desk: whatever somebody turns there is known here within a second.
    # It asks for a checksum twice a second, which costs the desk nothing, and reads the
    # whole state only when that changed.
    class DeskWatch
      PERIOD_S = 0.4
      private_constant :PERIOD_S

      # @param desk [Links::DeskLink]
      # @param busy [Proc] true while the desk is still being told of edits
      # @param stands [Proc] is told, each time, the checksum of the gear that stands there
      # @yield when what the desk has became known or changed
      def initialize(desk, busy:, stands:, &changed)
        @desk = desk
        @busy = busy
        @stands = stands
        @changed = changed
        Thread.new { watch }
      end

      # @return [Patch::Scene, nil] what the desk has; nil until it has answered once
      attr_reader :state

      private

      def watch
        loop do
          check unless @busy.call
          sleep PERIOD_S
        rescue Links::DeskLink::Failed
          sleep PERIOD_S
        end
      end

      def check
        sum, gear = @desk.sums
        @stands.call(gear) if gear
        return if sum == @sum

        state = @desk.state
        return if @busy.call

        @sum = sum
        @state = state
        @changed.call
      end
    end
  end
end

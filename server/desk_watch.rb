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
      # @param plan [Proc] the patch that it should have, nil where nobody knows
      # @param stands [Proc] is told, each time, the checksum of the gear that stands there
      # @yield when what the desk has became known or changed
      def initialize(desk, busy:, plan:, stands:, &changed)
        @desk = desk
        @busy = busy
        @plan = plan
        @stands = stands
        @changed = changed
        @told = 0
        Runtime::Loop.start("desk watch", pause_s: PERIOD_S) { watch }
      end

      # The desk was told something: what was known of it no longer holds, also what is being
      # read at this moment.
      def forget
        @told += 1
        @state = @sum = nil
      end

      # @return [Patch::Scene, nil] what the desk has; nil until it has answered once
      attr_reader :state

      private

      def watch
        check unless @busy.call
      rescue Links::DeskLink::Failed
        # A desk that does not answer is said elsewhere; it is asked again.
        nil
      end

      def check
        told = @told
        sum, gear = @desk.sums
        @stands.call(gear) if gear
        return if sum == @sum

        state = planned(sum) || @desk.state
        return if @busy.call || told != @told

        @sum = sum
        @state = state
        @changed.call
      end

      # Mostly the desk has what is planned: then there is nothing to be read.
      def planned(sum)
        plan = @plan.call
        plan if plan&.checksum == sum
      end
    end
  end
end

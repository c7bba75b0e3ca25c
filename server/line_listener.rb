# frozen_string_literal: true

module Loomshuttle
  module Server
    # Asks the ear to listen as long as the show on air has a check that listens, and gives what it hears to
    # that check. Several servers on one database may all do it: an arrival is judged once, by its id.
    class LineListener
      # The ear stops by itself when nobody asks any more.
      LEASE_S = 5
      ASK_S = 1.0
      private_constant :LEASE_S, :ASK_S

      # @param ear [Links::ControlLink]
      # @param linechecks [Store::Beside]
      # @param on_air [Store::OnAir]
      # @param check [Actions::CheckLines]
      # @param shows [Store::Shows]
      def initialize(ear, linechecks:, on_air:, shows:, check:)
        @ear, @linechecks, @on_air, @shows, @check = ear, linechecks, on_air, shows, check
        @seen = Set.new
        @news = Thread::Queue.new
      end

      def start
        @ear.on_frame { @news << true if fresh.any? && @news.empty? }
        Runtime::Loop.start("ear's lease", pause_s: ASK_S, retry_s: ASK_S) { ask }
        Runtime::Loop.start("line check", retry_s: 0.5) { take }
        self
      end

      # Those lanes' preamps were turned.
      def forget(lanes)
        @levels_from_s = @ear.ask(do: "forget", lanes: lanes)["at_s"]
      rescue Runtime::Gone
        # It knows nothing of before when it is there again.
        nil
      end

      # @return [Hash] what pages show of the ear
      def state = {answers: @ear.answers?, **(@ear.last("ear") || {}).slice("listening", "ready", "missed_blocks").transform_keys(&:to_sym)}

      # @return [Hash] peak_dbfs and rms_dbfs of the last minute, one a lane; empty where nothing is known
      def minute
        heard = @ear.answers? ? @ear.last("ear").to_h : {}
        (heard["minute"] if heard["at_s"].to_f >= @levels_from_s.to_f) || {}
      end

      # Asks at once, for whoever has just begun. What was heard before counts for nothing.
      def begin_anew
        @seen = told.to_set { |one| one["id"] }
        ask(anew: true)
      end

      private

      def ask(anew: false)
        id = @on_air.show_id
        @ear.ask(do: "listen", for_s: LEASE_S, anew: anew, deaf: Loomshuttle::Linecheck::Way.mixed_lanes(@shows.load(id).show)) if id && @linechecks.of(id).state.wanted?
      rescue Runtime::Gone
        # Pages show that it does not answer.
        nil
      end

      def told = @ear.last("ear").to_h.fetch("arrivals", [])
      def fresh = told.reject { |one| @seen.include?(one["id"]) }

      # What comes while no check listens is nobody's.
      def take
        @news.pop
        now = told
        heard = now.reject { |one| @seen.include?(one["id"]) }
        id = @on_air.show_id
        @check.heard(id, heard.map { |one| Loomshuttle::Ear::Arrival.from_data(one) }) if id && heard.any?
        # Only of what the ear still tells it must be remembered.
        @seen = now.to_set { |one| one["id"] }
      end
    end
  end
end

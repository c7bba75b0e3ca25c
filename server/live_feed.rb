# frozen_string_literal: true

module Loomshuttle
  module Server
    # Composes what the browsers are told of engine, deck and desk: to whoever looks at levels, those that
    # it wants, as often as it wants; to the others the state, when it changes and twice a second. What is
    # not known is told as such: the newest that was heard, with its age.
    class LiveFeed
      SLOW_S = 0.5
      # How often the engine tells, and nobody can be told oftener.
      RATE_HZ = 20
      private_constant :SLOW_S

      # @param engine, deck [Links::ControlLink]
      # @param desk [Links::DeskLink]
      def initialize(hub, engine:, deck:, desk:)
        @hub, @engine, @deck, @desk = hub, engine, deck, desk
        @slow_s = 0.0
        @told = 0
      end

      # Called with every frame of the engine, and while it is silent by its broken line.
      def publish
        whole, number = frame, @told += 1
        changed = changed?(whole)
        @hub.publish_each("frame") { |wanted, first| wanted.of(whole) if first || (wanted.rate_hz ? due?(wanted, number) : changed) }
      end

      # @return [Hash]
      def frame
        {meters: @engine.answers? ? @engine.last("meters") : nil,
         engine: @engine.last("status"), engine_silent_s: @engine.silent_s&.round(1),
         deck: @deck.last("deck"), deck_silent_s: @deck.silent_s&.round(1),
         desk: {answers: @desk.answers?, peaks: @desk.answers? ? @desk.peaks&.map { |peak| Audio::Scale.dbfs(peak).round(1) } : nil}}
      end

      private

      # Of 20 frames as many as are wanted, evenly.
      def due?(wanted, number) = (number * wanted.rate_hz).div(RATE_HZ) > ((number - 1) * wanted.rate_hz).div(RATE_HZ)

      def changed?(whole)
        state = state(whole)
        now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        return false if state == @state && now_s - @slow_s < SLOW_S

        @state, @slow_s = state, now_s
        true
      end

      # What somebody wants to know at once: what runs, what plays, what went away.
      def state(frame)
        [frame.dig(:engine, "device", "state"), frame.dig(:engine, "recording")&.slice("take", "state", "armed"), frame.dig(:engine, "faults")&.size,
          frame.dig(:deck, "playing", "key"), frame[:engine_silent_s].nil?, frame[:deck_silent_s].nil?, frame[:desk][:answers]]
      end
    end
  end
end

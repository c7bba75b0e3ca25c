# frozen_string_literal: true

module Loomshuttle
  module Server
    # Composes what the browsers are told of engine, deck and desk: with all levels 20 times a second to
    # whoever looks at levels; to the others the state, when it changes and twice a second. What is not
    # known is told as such: the newest that was heard, with its age.
    class LiveFeed
      SLOW_S = 0.5
      private_constant :SLOW_S

      # @param engine, deck [Links::ControlLink]
      # @param desk [Links::DeskLink]
      def initialize(hub, engine:, deck:, desk:)
        @hub, @engine, @deck, @desk = hub, engine, deck, desk
        @slow_s = 0.0
      end

      # Called with every frame of the engine, and while it is silent by its broken line.
      def publish
        whole = frame
        @hub.publish("frame", whole, topic: "levels")
        state = state(whole)
        now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        return if state == @state && now_s - @slow_s < SLOW_S

        @state, @slow_s = state, now_s
        @hub.publish("frame", whole.merge(meters: nil, desk: whole[:desk].merge(peaks: nil)), topic: "status")
      end

      # @return [Hash]
      def frame
        {meters: @engine.answers? ? @engine.last("meters") : nil,
         engine: @engine.last("status"), engine_silent_s: @engine.silent_s&.round(1),
         deck: @deck.last("deck"), deck_silent_s: @deck.silent_s&.round(1),
         desk: {answers: @desk.answers?, peaks: @desk.answers? ? @desk.peaks&.map { |peak| Audio::Scale.dbfs(peak).round(1) } : nil}}
      end

      private

      # What somebody wants to know at once: what runs, what plays, what went away.
      def state(frame)
        [frame.dig(:engine, "device", "state"), frame.dig(:engine, "recording")&.slice("take", "state", "armed"), frame.dig(:engine, "faults")&.size,
          frame.dig(:deck, "playing", "key"), frame[:engine_silent_s].nil?, frame[:deck_silent_s].nil?, frame[:desk][:answers]]
      end
    end
  end
end

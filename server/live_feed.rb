# frozen_string_literal: true

module Loomshuttle
  module Server
    # Composes what the browsers are told of engine, deck and desk. The state as a whole to who comes, from then on what
    # is another in it, when somebody wants to know and twice a second; levels to whoever looks at them, those that it
    # wants, as often as it wants. What is not known is told as such: the newest that was heard, with its age.
    class LiveFeed
      SLOW_S = 0.5
      # How often the engine tells, and nobody can be told oftener.
      RATE_HZ = 20
      # Change seldom: told when they do.
      SELDOM = %i[held_dbfs clips].freeze
      # Of so many different wishes it is remembered what each was told of these.
      WISHES_KEPT = 200
      private_constant :SLOW_S, :SELDOM, :WISHES_KEPT

      # @param engine, deck [Links::ControlLink]
      # @param desk [Links::DeskLink]
      def initialize(hub, engine:, deck:, desk:)
        @hub, @engine, @deck, @desk = hub, engine, deck, desk
        @slow_s = 0.0
        @told = 0
        @seldom = {}
      end

      # Called with every frame of the engine, and while it is silent by its broken line.
      def publish
        whole, number = frame, @told += 1
        tell_state(state(whole)) if due_state?(whole)
        @hub.publish_each("levels") { |wanted, first| levels(wanted, whole, first) if wanted.rate_hz && (first || due?(wanted, number)) }
      end

      # @return [Hash]
      def frame
        {meters: @engine.answers? ? @engine.last("meters") : nil,
         engine: @engine.last("status"), engine_silent_s: @engine.silent_s&.round(1),
         deck: @deck.last("deck"), deck_silent_s: @deck.silent_s&.round(1),
         desk: {answers: @desk.answers?, peaks: @desk.answers? ? @desk.peaks&.map { |peak| Audio::Scale.dbfs(peak).round(1) } : nil}}
      end

      private

      # What is neither a level nor moves with every block.
      def state(whole)
        deck = whole[:deck]
        playing = deck&.dig("playing")
        {engine: whole[:engine]&.except("clock"), engine_silent_s: whole[:engine_silent_s],
         deck: playing ? deck.merge("playing" => playing.except("peak_dbfs")) : deck, deck_silent_s: whole[:deck_silent_s],
         desk: {answers: whole[:desk][:answers]}}
      end

      # Who comes is told the whole, the others what is another: both count from the same.
      def tell_state(state)
        change = @state ? Delta.between(@state, state) : state
        @state = state
        @hub.publish_each("state") { |_, first| state if first }
        @hub.publish("change", change) if change.any?
      end

      # On the hub's thread. Who comes is told all of it; others what is another of what changes seldom.
      def levels(wanted, whole, first)
        told = wanted.of(whole)
        seldom = told.slice(*SELDOM)
        return told if first

        known = @seldom.delete(wanted)
        @seldom[wanted] = seldom
        @seldom.shift if @seldom.size > WISHES_KEPT
        known ? told.reject { |key, value| SELDOM.include?(key) && known[key] == value } : told
      end

      # Of 20 frames as many as are wanted, evenly.
      def due?(wanted, number) = (number * wanted.rate_hz).div(RATE_HZ) > ((number - 1) * wanted.rate_hz).div(RATE_HZ)

      def due_state?(whole)
        urgent = urgent(whole)
        now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        return false if urgent == @urgent && now_s - @slow_s < SLOW_S

        @urgent, @slow_s = urgent, now_s
        true
      end

      # What somebody wants to know at once: what runs, what plays, what went away.
      def urgent(frame)
        [frame.dig(:engine, "device", "state"), frame.dig(:engine, "recording")&.slice("take", "state", "armed"), frame.dig(:engine, "faults")&.size,
          frame.dig(:deck, "playing", "key"), frame[:engine_silent_s].nil?, frame[:deck_silent_s].nil?, frame[:desk][:answers]]
      end
    end
  end
end

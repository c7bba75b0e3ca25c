# frozen_string_literal: true

module Loomshuttle
  module Server
    # Composes what the browsers are told 20 times a second of engine, deck and desk. What is not
    # known is told as such: the newest that was heard, with its age.
    class LiveFeed
      # @param engine, deck [Links::ControlLink]
      # @param desk [Links::DeskLink]
      def initialize(hub, engine:, deck:, desk:)
        @hub, @engine, @deck, @desk = hub, engine, deck, desk
      end

      # Called with every frame of the engine, and while it is silent by its broken line.
      def publish = @hub.publish("frame", frame)

      # @return [Hash]
      def frame
        {meters: @engine.answers? ? @engine.last("meters") : nil,
         engine: @engine.last("status"), engine_silent_s: @engine.silent_s&.round(1),
         deck: @deck.last("deck"), deck_silent_s: @deck.silent_s&.round(1),
         desk: {answers: @desk.answers?, peaks: @desk.answers? ? @desk.peaks&.map { |peak| Audio::Scale.dbfs(peak).round(1) } : nil}}
      end
    end
  end
end

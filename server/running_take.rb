# frozen_string_literal: true

module Loomshuttle
  module Server
    # The take that runs, as the engine says it. It belongs to the show on air: that may not change
    # while a take runs.
    class RunningTake
      # @param engine [Links::ControlLink]
      # @param on_air [Store::OnAir]
      def initialize(engine, on_air)
        @engine, @on_air = engine, on_air
      end

      # The engine is asked, not remembered: what it told last is up to a twentieth of a second old, and
      # somebody may just have pressed Stop.
      #
      # @return [Hash, nil] string keys; what was heard last where the engine does not answer
      def now
        raise Runtime::Gone.new("the audio engine", "it is silent") if @engine.heard && !@engine.answers?

        @engine.ask({do: "status"}, seconds: 1)["recording"]
      rescue Runtime::Gone
        @engine.last("status")&.fetch("recording", nil)
      end

      # @param show_id [Integer]
      # @return [Hash, nil] the running take where it is one of that show
      def of(show_id) = (now if @on_air.on_air?(show_id))

      # @return [Integer, nil] its number by what the engine told last: a page's findings wait for nobody
      def heard_number(show_id) = (@engine.last("status")&.dig("recording", "take", "number") if @on_air.on_air?(show_id))

      # @return [Integer, nil] how many lanes the audio device plays, by what the engine told last; nil where nobody knows
      def lanes_out(show_id) = (@engine.last("status")&.dig("device", "lanes_out") if @on_air.on_air?(show_id))
    end
  end
end

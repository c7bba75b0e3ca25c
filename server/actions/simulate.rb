# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Silence, taps and faults on a simulated stage. A real desk knows nothing of it, and says so.
      class Simulate
        # @param desk_link [Links::DeskLink]
        # @param on_air [Store::OnAir]
        def initialize(desk_link:, on_air:)
          @desk_link, @on_air = desk_link, on_air
        end

        # @return [Hash] simulated, quiet, planted
        def now(show_id)
          return NONE unless @on_air.on_air?(show_id) && @desk_link.answers?

          @desk_link.simulation.then { |quiet, planted| {simulated: true, quiet: quiet, planted: planted} }
        rescue Links::DeskLink::Failed
          NONE
        end

        NONE = {simulated: false, quiet: false, planted: []}.freeze
        private_constant :NONE

        # @param wish [Hash] "do" and what that takes, string keys, as SimulationWish says
        # @raise [BadInput, Links::DeskLink::Failed]
        def call(show_id, wish)
          raise BadInput.new(field: "show", value: show_id, allowed: "the show on air") unless @on_air.on_air?(show_id)

          @desk_link.simulate(*message(wish))
          now(show_id)
        rescue Links::DeskLink::Refused => e
          raise BadInput.new(field: wish["do"], value: wish["row"], allowed: "what this stage can simulate: #{e.message}")
        end

        private

        def message(wish)
          case wish["do"]
          when "quiet" then ["/quiet", wish.fetch("on") ? 1 : 0]
          when "tap" then ["/tap", wish.fetch("row")]
          when "plant" then ["/plant", wish.fetch("kind"), wish.fetch("row"), wish["other"].to_s]
          else ["/unplant", wish["kind"].to_s, wish["row"].to_s]
          end
        end
      end
    end
  end
end

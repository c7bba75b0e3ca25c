# frozen_string_literal: true

module Loomshuttle
  module Screens
    # What would change if the show ran at another sample rate: lanes that links lose, and
    # the sources that would be lost with them.
    module RateForecast
      module_function

      # @return [Hash] {rate_hz:, links: [{cable:, lanes_now:, lanes_then:, lost: [id]}], sources_lost: [String]}
      def of(show, rate_hz)
        links = show.rig.cables.filter_map do |cable|
          now, later = [show.sample_rate_hz, rate_hz].map { |rate| Signal::LinkBudget.of(show, cable, rate) }
          if now[:lanes] != later[:lanes]
            {cable: cable.id, lanes_now: now[:lanes], lanes_then: later[:lanes], lost: later[:lost] - now[:lost]}
          end
        end
        {rate_hz: rate_hz,
         links: links,
         sources_lost: links.flat_map { |link| link[:lost] }.map { |id| show.label(show.graph.line_back(id).last) }.uniq}
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Signal
    # What a place carries: the one answer for lanes, looms, tables, sentences and checks.
    #
    #   Carried.of(show, "desk/card-send/9")   # => "list/row/9", a role, a mix or a track's place; nil for nothing
    module Carried
      module_function

      # @return [String, nil] the source whose signal arrives: a row, a role, a mix that something is
      #   sent to, or a recorder's slot (what is on disk), whatever comes first on the way back
      def of(show, id)
        origin, track = Sources.behind(show, id)
        return track if track

        origin if source?(show, origin)
      end

      def anything?(show, id) = !of(show, id).nil?

      # Whether a line that ends there begins with something.
      def source?(show, origin)
        show.rows.key?(origin) || origin.start_with?("songs/") || show.graph.to(origin).any? { |edge| edge.kind == :send && edge.from != origin }
      end
    end
  end
end

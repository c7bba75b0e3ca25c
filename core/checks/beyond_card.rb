# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Sources that are heard and recorded nowhere: for want of a lane, or because nobody laid one.
    # Says nothing of a show that records nothing at all.
    module BeyondCard
      module_function

      def findings(show)
        return [] if show.tracks.empty?

        rows = (Signal::Sources.channels(show).values.uniq - recorded(show)).map { |id| show.rows[id] }.sort_by(&:number)
        rows.empty? ? [] : [finding(show, rows)]
      end

      # By whatever track, meant for it or not: the check silent-lane looks at what was meant.
      def recorded(show) = show.tracks.values.flat_map { |track| [track.row, show.graph.line_back(track.place).last] }

      def finding(show, rows)
        names = Words::Runs.names(rows.map(&:name))
        full = !room?(show, rows.size)
        Finding.new(rule: "beyond-card", severity: full ? "warn" : "note", step: "capture",
          title: "#{(rows.size == 1) ? "#{rows.first.name} is" : "#{rows.size} sources are"} recorded nowhere",
          what: "#{names} #{(rows.size == 1) ? "has" : "have"} no track#{", and the card has not as many lanes left" if full}.",
          why: full ? "The card cannot carry them all: choose who is left out, or add another link." : "They are heard, and missing at the next virtual soundcheck.",
          endpoints: rows.map(&:id), about: {full: full})
      end

      # Whether so many lanes to computers carry nothing yet; the high ones first, they are free the longest.
      def room?(show, count)
        lanes = show.rig.all_of("desk").flat_map { |desk| show.places(desk, "card-send").reverse }
        return false if lanes.size < count

        lanes.lazy.reject { |lane| Signal::Carried.anything?(show, lane) }.first(count).size == count
      end
      private_class_method :recorded, :finding, :room?
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A track for soundcheck is recorded behind the equaliser or the fader.
    module ColouredTap
      module_function

      # Taps at which nothing that an engineer moves during the show is in the signal.
      CLEAN = ["raw", "in", "pre-eq", nil].freeze
      private_constant :CLEAN

      def findings(show)
        show.tracks.values.select(&:row).filter_map do |track|
          edge = coloured_edge(show, track)
          edge && finding(show, track, edge)
        end
      end

      # The first join on the way back from the track that is coloured.
      def coloured_edge(show, track)
        show.graph.line_back(track.place).each_cons(2) do |to, _from|
          edge = show.graph.back(to) if show.patch.slots.key?(to)
          return edge if edge && edge.kind == :patch && !CLEAN.include?(edge.tap)
        end
        nil
      end

      def finding(show, track, edge)
        Finding.new(rule: "coloured-tap", severity: "warn", step: "capture", title: "#{track.name} is recorded #{edge.tap}",
          what: "#{show.label(edge.to)} takes #{show.label(edge.from)} #{edge.tap}, so #{show.label(track.place)} holds #{moved(edge.tap)}.",
          why: "At the virtual soundcheck it would pass the same processing a second time.", endpoints: [edge.to, track.place],
          mend: mend(show, edge))
      end

      def moved(tap) = {"post-eq" => "the equaliser", "pre-fader" => "equaliser and dynamics"}.fetch(tap, "every fader move of the night")

      def mend(show, edge)
        taps = show.rig.family_of(edge.from)&.taps || []
        clean = (CLEAN & taps).first or return nil
        Mend.new(label: "Mend: take it #{clean}", edits: [Edits::Connect.new(slot: edge.to, from: edge.from, tap: clean)])
      end
      private_class_method :coloured_edge, :finding, :moved, :mend
    end
  end
end

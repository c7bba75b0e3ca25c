# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A track for soundcheck is recorded behind the equaliser or the fader.
    module ColouredTap
      module_function

      # Taps at which nothing that an engineer moves during the show is in the signal.
      CLEAN = ["raw", "in", "pre-eq", nil].freeze
      WHY = "At the virtual soundcheck it would pass the same processing a second time."
      private_constant :CLEAN, :WHY

      def findings(show)
        coloured = show.tracks.values.select(&:row).filter_map { |track| coloured_edge(show, track)&.then { |edge| [track, edge] } }
        coloured.group_by { |_, edge| edge.tap }.map { |tap, pairs| pairs.one? ? finding(show, *pairs.first) : alike(show, tap, pairs) }
      end

      # One fact of many tracks is one finding.
      def alike(show, tap, pairs)
        tracks = pairs.map(&:first)
        cures = pairs.filter_map { |_, edge| cure(show, edge) }
        Finding.new(rule: "coloured-tap", severity: "warn", step: "capture", title: "#{tracks.size} tracks are recorded #{tap}",
          what: "#{Words::Runs.names(tracks.map(&:name))} are recorded #{tap}, so they hold #{moved(tap)}.",
          why: WHY, endpoints: pairs.flat_map { |track, edge| [edge.to, track.place] }, about: {tap: tap},
          mend: (Mend.new(label: "Mend: take them as clean as they are offered", edits: cures) if cures.size == pairs.size))
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
          why: WHY, endpoints: [edge.to, track.place], about: {tap: edge.tap},
          mend: mend(show, edge))
      end

      def moved(tap) = {"post-eq" => "the equaliser", "pre-fader" => "equaliser and dynamics"}.fetch(tap, "every fader move of the night")

      def mend(show, edge) = cure(show, edge)&.then { |edit| Mend.new(label: "Mend: take it #{edit.tap}", edits: [edit]) }

      def cure(show, edge)
        clean = (CLEAN & (show.rig.family_of(edge.from)&.taps || [])).first
        clean && Edits::Connect.new(slot: edge.to, from: edge.from, tap: clean, delay_ms: show.patch.slots[edge.to].delay_ms)
      end
      private_class_method :alike, :coloured_edge, :finding, :moved, :mend, :cure
    end
  end
end

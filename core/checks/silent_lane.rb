# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A track's lane takes a place other than where its source is plugged: perfect
    # recordings of silence.
    module SilentLane
      module_function

      def findings(show)
        astray(show).group_by { |track, lane| lane ? Patch::Block.slots(show, lane) : [track.place] }
          .map { |slots, pairs| finding(show, slots, pairs) }
      end

      # Tracks whose way back does not meet the socket of their row, with their lane.
      def astray(show)
        show.tracks.values.filter_map do |track|
          socket = show.patch.plugs[track.row] or next
          line = show.graph.line_back(track.place)
          [track, line.find { |id| Endpoint.parse(id).family == "card-send" }] unless line.include?(socket)
        end
      end

      def finding(show, slots, pairs)
        tracks = pairs.map(&:first)
        Finding.new(rule: "silent-lane",
          severity: "stop",
          step: "patch",
          title: title(show, pairs),
          what: what(show, slots, pairs),
          why: "The #{Words::Runs.plural("track", tracks)} would fill with something else, mostly silence, and nobody hears it until it is too late.",
          endpoints: pairs.map { |track, lane| lane || track.place } + tracks.map(&:id),
          mend: mend(show, pairs))
      end

      def title(show, pairs)
        lanes = pairs.map { |track, lane| lane || track.place }
        word = pairs.first.last ? "lane" : "track"
        silent = pairs.none? { |track, _| show.rows.key?(show.graph.line_back(track.place).last) }
        "#{Words::Runs.plural(word, lanes).capitalize} #{Words::Runs.of(lanes)} #{"record".then { |verb| (lanes.size == 1) ? "#{verb}s" : verb }} #{silent ? "silence" : "the wrong source"}"
      end

      def what(show, slots, pairs)
        sources = pairs.map { |track, _| show.graph.line_back(track.place).last }
        plugged = pairs.map { |track, _| show.patch.plugs[track.row] }
        names = pairs.map { |track, _| show.label(track.row) }
        block = (slots.size > 1) ? "Their block takes" : "It takes"
        "#{block} #{Words::Runs.places(show, sources)}. #{names.join(", ")} #{(names.size == 1) ? "is" : "are"} plugged in at #{Words::Runs.places(show, plugged)}."
      end

      def mend(show, pairs)
        edits = pairs.filter_map { |track, lane| lane && into(show, track, lane) }.uniq { |edit| Patch::Block.first(show, edit.slot) }
        target = edits.first && Edits::Group.new(edits: edits)
        return nil if edits.empty? || target.apply(show).is_a?(Refusal)

        Mend.new(label: "Mend: take #{Words::Runs.places(show, pairs.map { |track, _| show.patch.plugs[track.row] })}", edits: edits)
      end

      def into(show, track, lane)
        source = Signal::Route.into(show, show.patch.plugs[track.row], lane)
        source && Edits::Connect.new(slot: lane, from: source)
      end
      private_class_method :astray, :finding, :title, :what, :mend, :into
    end
  end
end

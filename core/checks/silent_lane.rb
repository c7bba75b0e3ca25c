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

      # Tracks whose way back does not meet the socket of their row, with their lane. One that meets its own return takes
      # its channel behind the feed while that listens to the recorder: what would be recorded then, other rules say.
      def astray(show)
        show.once(:astray) do
          show.tracks.values.filter_map do |track|
            socket = show.patch.plugs[track.row] or next
            line = show.graph.line_back(track.place)
            next if line.include?(socket) || line.any? { |id| id.include?("/lane-out/") && show.patch.slots[id]&.from == track.place }

            [track, line.find { |id| Endpoint.parse(id).family == "card-send" }]
          end
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
          endpoints: pairs.map { |track, lane| lane || track.place } + tracks.map(&:place),
          about: pairs.map { |track, _| [show.patch.plugs[track.row], show.graph.line_back(track.place).last] },
          mend: mend(show, pairs))
      end

      def title(show, pairs)
        lanes = pairs.map { |track, lane| lane || track.place }
        word = pairs.first.last ? "Lane" : "Track"
        silent = pairs.none? { |track, _| Signal::Carried.anything?(show, show.graph.line_back(track.place)[1] || track.place) }
        "#{Words::Runs.plural(word, lanes)} #{Words::Runs.of(lanes)} #{(lanes.size == 1) ? "records" : "record"} #{silent ? "silence" : "the wrong source"}"
      end

      def what(show, slots, pairs)
        plugged = pairs.map { |track, _| show.patch.plugs[track.row] }
        names = pairs.map { |track, _| show.label(track.row) }
        "#{takes(show, slots, pairs)} #{Words::Runs.names(names)} #{(names.size == 1) ? "is" : "are"} plugged in at #{Words::Runs.places(show, plugged)}."
      end

      def takes(show, slots, pairs)
        sources = pairs.map { |track, _| show.graph.line_back(track.place).last }
        return "Nothing is laid there." if sources == pairs.map { |track, _| track.place }

        "#{(slots.size > 1) ? "Their block takes" : "It takes"} #{Words::Runs.places(show, sources)}."
      end

      # Whole blocks where that puts all of them right and nobody else wrong; else the block is opened.
      def mend(show, pairs)
        laid = pairs.filter_map { |track, lane| lane && into(show, track, lane) }
        return nil if laid.size < pairs.size

        blocks = laid.uniq { |edit| Patch::Block.first_or_self(show, edit.slot) }
        opening = laid.map { |edit| Patch::Block.first_or_self(show, edit.slot) }.uniq.select { |slot| show.rig.field_of(slot).opens && Patch::Block.slots(show, slot).size > 1 }
        edits = [blocks, [*opening.map { |slot| Edits::OpenBlock.new(slot: slot) }, *laid]].find { |some| cures?(show, pairs, some) }
        edits && Mend.new(label: "Mend: take #{Words::Runs.places(show, pairs.map { |track, _| show.patch.plugs[track.row] })}", edits: edits)
      end

      def cures?(show, pairs, edits)
        after = Edits::Group.new(edits: edits).apply(show)
        return false unless after.is_a?(Show)

        others = (astray(show) - pairs).map { |track, _| track.id }
        (astray(after).map { |track, _| track.id } - others).empty? && Soundness.safe?(show, after, heard: false)
      end

      def into(show, track, lane)
        source = Signal::Route.into(show, show.patch.plugs[track.row], lane)
        source && Edits::Connect.new(slot: lane, from: source)
      end
      private_class_method :astray, :finding, :title, :what, :takes, :mend, :cures?, :into
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Says in one plain sentence which way a signal goes, or where it stops and why.
    module Sentence
      module_function

      # @param direction [:forward, :back]
      # @return [String]
      def of(show, id, direction = :forward)
        return of_row(show, id) if direction == :forward && show.rows.key?(id)

        (direction == :forward) ? of_place(show, id) : of_back(show, id)
      end

      def of_row(show, row_id)
        return "#{show.label(row_id)} is not plugged in anywhere." unless show.patch.plugs.key?(row_id)

        "#{show.label(row_id)} goes #{way(show, row_id)}."
      end

      def way(show, row_id)
        # Channels that take it beside each other are not one after the other; behind a channel they are.
        taken = channels(show, row_id)
        behind, first = (taken.size > 1) ? taken.partition { |id| (show.graph.line_back(id).drop(1) & taken).any? } : [[], taken]
        stops = [first, behind].reject(&:empty?).map { |ids| Words::Runs.list(ids.map { |id| show.label(id) }) }
        places = [show.label(show.patch.plugs[row_id]), *stops].join(" → ")
        "#{places},#{heard(show, row_id)}#{recorded(show, row_id)}"
      end

      def of_place(show, id)
        return of_mix(show, id) if show.graph.to(id).any? { |edge| edge.kind == :send }

        origin = show.graph.line_back(id).last
        return "#{capital(show.label(id))} carries #{show.label(origin)}: #{way(show, origin)}." if show.rows.key?(origin)
        return "#{capital(show.label(id))}#{next_stops(show, id)}#{heard(show, id)}." if show.graph.from(id).any? && live?(show, origin)

        of_back(show, id)
      end

      def of_mix(show, id)
        sources = show.graph.to(id).count { |edge| edge.kind == :send }
        "#{capital(show.label(id))} mixes #{(sources == 1) ? "one source" : "#{sources} sources"},#{heard(show, id)}."
      end

      def of_back(show, id)
        mixed = show.graph.to(id).select { |edge| edge.kind == :send }
        return "#{capital(show.label(id))} mixes #{in_words(show, mixed.map(&:from))}." if mixed.any?

        line = stops(show, show.graph.line_back(id))
        return "#{capital(show.label(id))}#{alone(show, id)}." if line.size == 1
        "#{line.map.with_index { |stop, i| (i == 0) ? capital(show.label(stop)) : show.label(stop) }.join(" ← ")}#{silence(show, line.last)}."
      end

      # Only the places that an engineer can put a finger on; lanes on the way are left out.
      def stops(show, line)
        line.each_with_index.select { |id, i| i == 0 || i == line.size - 1 || show.rig.kind_of(id) != "lane" }.map(&:first)
      end

      def channels(show, row_id)
        channels = show.rig.ids_of("channel")
        show.graph.onward(row_id).filter_map { |edge| edge.to if channels.include?(edge.to) }.uniq
      end

      def next_stops(show, id)
        show.graph.onward(id).map(&:to).select { |to| %w[channel socket].include?(show.rig.kind_of(to)) && Endpoint.parse(to).family != "out-socket" }
          .uniq.then { |found| found.empty? ? " is" : " goes to #{found.map { |to| show.label(to) }.join(" and ")}," }
      end

      def heard(show, id)
        listeners = Reach.listeners(show, id)
        listeners.empty? ? " heard by nobody" : " heard at #{listeners.map(&:name).join(", ")}"
      end

      # On which tracks it arrives, whoever they are meant for; what becomes of the one that is meant for it
      # where it does not.
      def recorded(show, row_id)
        tracks = show.graph.onward(row_id).map(&:to).select { |id| show.track_at(id) }.uniq
        return "; recorded on #{Words::Runs.list(tracks.map { |id| show.label(id) })}" if tracks.any?

        track = show.track_of_row(row_id) or return "; it has no track"
        line = show.graph.line_back(track.place)
        lane = line.find { |id| Endpoint.parse(id).family == "card-send" }
        source = line.last
        "; but #{show.label(lane || track.place)} listens to #{show.label(source)}#{silence(show, source)}: " \
          "#{show.label(track.place)} would record #{live?(show, source) ? "the wrong signal" : "silence"}"
      end

      # Many places in few words: "channel 1–12, 29 and Voices (bus 3)".
      def in_words(show, ids)
        named, numbered = ids.partition { |id| show.names.key?(id) }
        [*(Words::Runs.places(show, numbered) if numbered.any?), *named.map { |id| show.label(id) }].join(" and ")
      end

      # A place that nothing comes to from elsewhere in this rig.
      def alone(show, id)
        return next_stops(show, id) + heard(show, id) if live?(show, id)

        (Endpoint.parse(id).family == "mic") ? ": nothing is plugged in" : " takes nothing"
      end

      def silence(show, id)
        return "" if live?(show, id)

        (Endpoint.parse(id).family == "mic") ? ", where nothing is plugged" : ", which takes nothing"
      end

      def live?(show, id) = show.rows.key?(id) || %w[songs].include?(Endpoint.parse(id).device) || show.graph.to(id).any?
      def capital(text) = text.empty? ? text : text[0].upcase + text[1..]
      private_class_method :of_row, :way, :in_words, :alone, :of_place, :of_mix, :of_back, :stops, :channels, :next_stops, :heard, :recorded, :silence, :live?, :capital
    end
  end
end

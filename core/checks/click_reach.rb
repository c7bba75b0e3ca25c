# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Click or cue can reach an audience listener, or no performer at all.
    module ClickReach
      module_function

      def findings(show)
        show.roles.values.select { |role| private?(role) }.flat_map do |role|
          reached = Signal::Reach.listeners(show, role.endpoint).group_by { |device| device.profile.audience }
          [*reached.fetch("audience", []).map { |listener| heard(show, role, listener) }, *(used?(show, role) ? unheard(show, role, reached) : [])]
        end
      end

      # Marked as hidden, or called what nobody in the audience may hear.
      def private?(role) = role.hidden || role.name.match?(/\A(click|cue)/i)

      def used?(show, role) = show.songs.any? { |song| song.role_names.include?(role.name) }

      def heard(show, role, listener)
        ways = Signal::Reach.ways(show, role.endpoint, listener.id)
        Finding.new(rule: "click-reach",
          severity: "stop",
          step: "tracks",
          title: "#{Words::Runs.capital(role.name)} reaches #{listener.name}",
          what: "#{way_in_words(show, ways, role, listener)}.",
          why: "Nobody in the audience may hear it.",
          variant: role.name,
          endpoints: [Endpoint.id(listener.id, "in", 1), role.endpoint, *ways.map(&:from).uniq - [role.endpoint]],
          about: ways.map { |edge| [edge.from, edge.to] }.sort,
          mend: mend(show, role, listener, ways))
      end

      # One of the ways, from the role to the listener.
      def way_in_words(show, ways, role, listener)
        stops = [role.endpoint]
        while (edge = ways.select { |way| way.from == stops.last && !stops.include?(way.to) }.min_by(&:to))
          stops << edge.to
        end
        told = stops.select { |id| %w[channel bus main].include?(show.rig.family_of(id)&.kind) }
        [Words::Runs.capital(role.name), *told.map { |id| show.label(id) }, listener.name].join(" → ")
      end

      # Takes the channels that carry the role off the mixes on the way, and off what takes a channel
      # straight; other listeners of the same mix are audience too, or the mend would take the click
      # from a performer. Offered where the role is gone from the listener afterwards.
      def mend(show, role, listener, ways)
        sends = ways.select { |edge| edge.kind == :send && show.rig.kind_of(edge.from) == "channel" }
        direct = ways.select { |edge| edge.kind == :patch && show.rig.kind_of(edge.from) == "channel" && show.rig.kind_of(edge.to) != "channel" }
        return nil if (sends + direct).empty? || (sends + direct).any? { |edge| performer_hears?(show, edge.to) }

        edits = sends.map { |edge| Edits::SetSend.new(channel: edge.from, mix: edge.to, on: false) } + direct.map { |edge| Edits::Clear.new(slot: edge.to) }
        after = Edits::Group.new(edits: edits).apply(show)
        return nil if after.is_a?(Refusal) || Signal::Reach.listeners(after, role.endpoint).include?(listener)

        Mend.new(label: "Mend: take #{Words::Runs.channels(show, (sends + direct).map(&:from).sort)} off #{Words::Runs.list((sends + direct).map { |edge| show.names[edge.to] || show.label(edge.to) }.uniq)}",
          edits: edits)
      end

      def performer_hears?(show, mix) = Signal::Reach.listeners(show, mix).any? { |device| device.profile.audience == "performers" }

      def unheard(show, role, reached)
        return [] if reached.key?("performers")

        [Finding.new(rule: "click-reach", severity: "warn", step: "tracks", title: "#{Words::Runs.capital(role.name)} reaches no performer",
          what: "No wedge, in-ear or headphone hears #{role.name}: #{Signal::Sentence.of(show, role.endpoint)}",
          why: "The band would start without it.", variant: "unheard", endpoints: [role.endpoint])]
      end
      private_class_method :private?, :used?, :heard, :way_in_words, :mend, :performer_hears?, :unheard
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Click or cue can reach an audience listener, or no performer at all.
    module ClickReach
      module_function

      def findings(show)
        show.roles.values.select(&:hidden).select { |role| used?(show, role) }.flat_map do |role|
          reached = Signal::Reach.listeners(show, role.endpoint).group_by { |device| device.profile.audience }
          [*reached.fetch("audience", []).map { |listener| heard(show, role, listener) }, *unheard(show, role, reached)]
        end
      end

      def used?(show, role) = show.songs.any? { |song| song.role_names.include?(role.name) }

      def heard(show, role, listener)
        ways = Signal::Reach.ways(show, role.endpoint, listener.id)
        Finding.new(rule: "click-reach",
          severity: "stop",
          step: "tracks",
          title: "#{role.name.capitalize} reaches #{listener.name}",
          what: "#{way_in_words(show, ways, role, listener)}.",
          why: "Nobody in the audience may hear it.",
          endpoints: [Endpoint.id(listener.id, "in", 1), role.endpoint, *ways.map(&:from).uniq - [role.endpoint]],
          mend: mend(show, role, ways))
      end

      # One of the ways, from the role to the listener.
      def way_in_words(show, ways, role, listener)
        stops = [role.endpoint]
        while (edge = ways.find { |way| way.from == stops.last && !stops.include?(way.to) })
          stops << edge.to
        end
        told = stops.select { |id| %w[channel bus main].include?(show.rig.family_of(id)&.kind) }
        [role.name.capitalize, *told.map { |id| show.label(id) }, listener.name].join(" → ")
      end

      # Takes the channels that carry the role off the mixes on the way; other listeners of
      # the same mix are audience too, or the mend would take the click from a performer.
      def mend(show, role, ways)
        sends = ways.select { |edge| edge.kind == :send }
        return nil if sends.empty? || sends.any? { |edge| performer_hears?(show, edge.to) }

        channels = sends.map(&:from).uniq
        Mend.new(label: "Mend: take channel #{Words::Runs.of(channels)} off #{sends.map { |edge| show.names[edge.to] || show.label(edge.to) }.uniq.join(" and ")}",
          edits: sends.map { |edge| Edits::SetSend.new(channel: edge.from, mix: edge.to, on: false) })
      end

      def performer_hears?(show, mix) = Signal::Reach.listeners(show, mix).any? { |device| device.profile.audience == "performers" }

      def unheard(show, role, reached)
        return [] if reached.key?("performers")

        [Finding.new(rule: "click-reach", severity: "warn", step: "tracks", title: "#{role.name.capitalize} reaches no performer",
          what: "No wedge, in-ear or headphone hears #{role.name}: #{Signal::Sentence.of(show, role.endpoint)}",
          why: "The band would start without it.", endpoints: [role.endpoint])]
      end
      private_class_method :used?, :heard, :way_in_words, :mend, :performer_hears?, :unheard
    end
  end
end

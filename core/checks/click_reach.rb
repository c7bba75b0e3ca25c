# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Click or cue can reach an audience listener, or no performer at all.
    module ClickReach
      module_function

      def findings(show)
        show.roles.values.select(&:private?).flat_map do |role|
          reached = Signal::Reach.listeners(show, role.endpoint).group_by { |device| device.profile.audience }
          [*reached.fetch("audience", []).map { |listener| heard(show, role, listener) }, *(used?(show, role) ? unheard(show, role, reached) : [])]
        end
      end

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
        told = stops.select { |id| id.start_with?("songs/mix/") || %w[channel bus main].include?(show.rig.family_of(id)&.kind) }
        [Words::Runs.capital(role.name), *told.map { |id| show.label(id) }, listener.name].join(" → ")
      end

      # Takes the channels that carry the role off the mixes on the way, and off what takes a channel
      # straight; other listeners of the same mix are audience too, or the mend would take the click
      # from a performer. Offered where the role is gone from the listener afterwards.
      def mend(show, role, listener, ways)
        return at_the_role(show, role, listener, ways) if beside_patch(show, role, ways).any?

        sends = ways.select { |edge| edge.kind == :send && show.rig.kind_of(edge.from) == "channel" }
        direct = ways.select { |edge| edge.kind == :patch && show.rig.kind_of(edge.from) == "channel" && show.rig.kind_of(edge.to) != "channel" }
        return nil if (sends + direct).empty? || (sends + direct).any? { |edge| performer_hears?(show, edge.to) }

        edits = sends.map { |edge| Edits::SetSend.new(channel: edge.from, mix: edge.to, on: false) } + direct.map { |edge| Edits::Clear.new(slot: edge.to) }
        after = Edits::Group.new(edits: edits).apply(show)
        return nil if after.is_a?(Refusal) || Signal::Reach.listeners(after, role.endpoint).include?(listener)

        Mend.new(label: "Mend: take #{Words::Runs.channels(show, (sends + direct).map(&:from).sort)} off #{Words::Runs.list((sends + direct).map { |edge| show.names[edge.to] || show.label(edge.to) }.uniq)}",
          edits: edits)
      end

      # Into mixes of roles, and on lanes that some song has: what else is on the way there stays where it is.
      def beside_patch(show, role, ways) = ways.select { |edge| edge.from == role.endpoint && (edge.kind == :send || show.patch.slots[edge.to]&.from != role.endpoint) }

      def at_the_role(show, role, listener, ways)
        mixes, lanes = beside_patch(show, role, ways).partition { |edge| edge.kind == :send }
        mixes = mixes.map { |edge| show.mixes[Endpoint.number(edge.to).to_s] }
        songs = show.set_list.values.select { |listed| listed.roles[role.name]&.lanes.to_a.intersect?(lanes.map(&:to)) }.map(&:song)
        edits = mixes.map { |mix| Edits::SetMix.new(mix: mix.id, members: mix.members.except(role.endpoint).freeze) } +
          songs.map { |song| Edits::SetRoleTerms.new(role: role.name, song: song, lanes: nil) }
        after = Edits::Group.new(edits: edits).apply(show)
        return nil if after.is_a?(Refusal) || Signal::Reach.listeners(after, role.endpoint).include?(listener) || (performers(show, role) - performers(after, role)).any?

        out = [*("out of #{Words::Runs.list(mixes.map(&:name))}" if mixes.any?), *("to its usual lane in #{Words::Runs.names(songs.filter_map { |id| show.library[id]&.title }, 3)}" if songs.any?)]
        Mend.new(label: "Mend: take #{role.name} #{out.join(" and ")}", edits: edits)
      end

      def performers(show, role) = Signal::Reach.listeners(show, role.endpoint).select { |device| device.profile.audience == "performers" }

      def performer_hears?(show, mix) = Signal::Reach.listeners(show, mix).any? { |device| device.profile.audience == "performers" }

      def unheard(show, role, reached)
        return [] if reached.key?("performers")

        [Finding.new(rule: "click-reach", severity: "warn", step: "tracks", title: "#{Words::Runs.capital(role.name)} reaches no performer",
          what: "No wedge, in-ear or headphone hears #{role.name}: #{Signal::Sentence.of(show, role.endpoint)}",
          why: "The band would start without it.", variant: "unheard", endpoints: [role.endpoint])]
      end
      private_class_method :used?, :heard, :way_in_words, :mend, :beside_patch, :at_the_role, :performers, :performer_hears?, :unheard
    end
  end
end

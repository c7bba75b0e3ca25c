# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Roles of songs that are laid on no output, and stems that are heard twice because a mix of them
    # is played as well: rules `unassigned-role` and `twice` of the design.
    module Roles
      # What people call a stem that holds the others (common practice).
      MIX = /\b(mix|stereo mix|full|2-?mix|two-?track)\b/i
      private_constant :MIX

      module_function

      def findings(show) = [*unassigned(show), *twice(show)]

      def unassigned(show)
        missing = show.songs.flat_map { |song| song.role_names.map { |role| [role, song] } }
          .reject { |role, _| Signal::Returns.slot(show, Endpoint.id("songs", "role", role)) }.group_by(&:first)
        return [] if missing.empty?

        names = missing.keys.sort
        [Finding.new(rule: "unassigned-role", severity: "stop", step: "tracks",
          title: "#{Words::Runs.capital(Words::Runs.names(names))} #{(names.size == 1) ? "has" : "have"} no output",
          what: "#{Words::Runs.capital(Words::Runs.names(names))} #{(names.size == 1) ? "is" : "are"} laid on no lane; #{Words::Runs.names(missing.values.flatten(1).map { |_, song| song.title }.uniq, 3)} would play without.",
          why: "Nobody hears what is on no lane, and the song cannot be played.", endpoints: names.map { |role| Endpoint.id("songs", "role", role) },
          mend: mend(show, names))]
      end

      # Each on a free lane, or two where it is a pair: first on those that a channel takes.
      def mend(show, names)
        free = free_lanes(show)
        laid = names.map { |name| [name, free.shift(show.roles[name]&.pair ? 2 : 1)] }
        return nil if laid.any? { |name, lanes| lanes.size < (show.roles[name]&.pair ? 2 : 1) }

        Mend.new(label: "Mend: lay #{Words::Runs.list(laid.map { |name, lanes| "#{name} on lane #{Words::Runs.text(lanes.map { |id| Endpoint.number(id) })}" })}",
          edits: laid.flat_map { |name, lanes| lanes.map { |slot| Edits::Connect.new(slot: slot, from: Endpoint.id("songs", "role", name)) } })
      end

      def free_lanes(show)
        lanes = show.rig.places.values.select { |place| place.family.name == "lane-out" && place.present? && place.field&.takes?("role") && !show.patch.slots.key?(place.id) }
        lanes.map(&:id).partition { |id| show.graph.onward(id).any? { |edge| show.rig.kind_of(edge.to) == "channel" } }.flatten(1)
      end

      # One finding a listener.
      def twice(show)
        mixes, parts = show.roles.values.reject(&:hidden).partition { |role| role.name.match?(MIX) }
        return [] if mixes.empty? || parts.empty?

        heard = ->(role) { Signal::Reach.listeners(show, role.endpoint) }
        mixes.flat_map { |mix|
          heard[mix].filter_map { |listener|
            double(show, mix, parts.select { |part|
              heard[part].include?(listener) && together?(show, mix, part)
            }, listener)
          }
        }
      end

      def together?(show, mix, part) = show.songs.any? { |song| ([mix.name, part.name] - song.role_names).empty? }

      def double(show, mix, parts, listener)
        return nil if parts.empty?

        Finding.new(rule: "twice", severity: "warn", step: "tracks", title: "#{listener.name} hears #{Words::Runs.names(parts.map(&:name))} twice",
          what: "#{Words::Runs.capital(mix.name)} holds the other stems (so its name says), and #{listener.name} hears #{Words::Runs.names(parts.map(&:name))} beside it.",
          why: "The same part twice is louder than it was mixed, or hollow.", endpoints: [Endpoint.id(listener.id, "in", 1), mix.endpoint, *parts.map(&:endpoint)])
      end
      private_class_method :unassigned, :mend, :free_lanes, :twice, :together?, :double
    end
  end
end

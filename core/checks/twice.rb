# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A role that a listener hears by itself and inside a mix of it as well: one that is made here (Show::Mix), or a stem that
    # is called like one.
    module Twice
      # What people call a stem that holds the others (common practice).
      MIX = /\b(mix|stereo mix|full|2-?mix|two-?track)\b/i
      WHY = "The same part twice is louder than it was mixed, or hollow."
      private_constant :MIX, :WHY

      module_function

      def findings(show) = made(show) + named(show)

      # One finding a mix and listener.
      def made(show)
        show.mixes.values.flat_map do |mix|
          roles = mix.roles.filter_map { |name| show.roles[name] }.select { |role| played?(show, [role]) }
          Signal::Reach.listeners(show, mix.endpoint).filter_map do |listener|
            double(show, mix, roles.select { |role| heard_alone?(show, role, listener) }, listener, "#{Words::Runs.capital(mix.name)} holds %s")
          end
        end
      end

      # By its own lanes, in any song.
      def heard_alone?(show, role, listener)
        lanes = show.graph.from(role.endpoint).reject { |edge| edge.kind == :send }.map(&:to)
        lanes.any? { |lane| Signal::Reach.listeners(show, lane).include?(listener) }
      end

      def named(show)
        mixes, parts = show.roles.values.reject(&:hidden).partition { |role| role.name.match?(MIX) }
        return [] if mixes.empty? || parts.empty?

        heard = ->(role) { Signal::Reach.listeners(show, role.endpoint) }
        mixes.flat_map do |mix|
          heard[mix].filter_map do |listener|
            double(show, mix, parts.select { |part| heard[part].include?(listener) && played?(show, [mix, part]) }, listener, "#{Words::Runs.capital(mix.name)} holds the other stems (so its name says)")
          end
        end
      end

      def played?(show, roles) = show.songs.any? { |song| (roles.map(&:name) - song.role_names).empty? }

      def double(show, mix, parts, listener, holds)
        return nil if parts.empty?

        names = Words::Runs.names(parts.map(&:name))
        again = holds.include?("%s") ? {true => "it", false => "them"}[parts.one?] : names
        Finding.new(rule: "twice", severity: "warn", step: "tracks", title: "#{listener.name} hears #{names} twice", what: "#{format(holds, names)}, and #{listener.name} hears #{again} beside it.", why: WHY,
          endpoints: [Endpoint.id(listener.id, "in", 1), mix.endpoint, *parts.map(&:endpoint)])
      end
      private_class_method :made, :heard_alone?, :named, :played?, :double
    end
  end
end

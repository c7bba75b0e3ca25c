# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Roles and mixes of them on lanes that the audio device has not: the plan's computer has more than what is plugged in.
    module DeviceLanes
      READS = %i[engine].freeze
      WHY = "What is sent there goes nowhere, and nobody hears that something is missing."
      private_constant :WHY

      module_function

      def findings(show, facts)
        count = facts.engine&.fetch(:lanes_out, nil) or return []
        lanes = show.songs.flat_map { |song| song.role_names.flat_map { |name| played(show, name, song).map { |lane| [lane, name] } } }.uniq
        beyond = lanes.select { |lane, _| Endpoint.number(lane) > count }
        return [] if beyond.empty?

        names, numbers = beyond.map(&:last).uniq, beyond.map { |lane, _| Endpoint.number(lane) }.uniq
        [Finding.new(rule: "device-lanes", severity: "stop", step: "tracks", title: "#{Words::Runs.capital(Words::Runs.names(names, 3))} #{(names.size == 1) ? "is" : "are"} beyond the audio device",
          what: "#{Words::Runs.capital(Words::Runs.names(names, 3))} #{(names.size == 1) ? "is" : "are"} on lane #{Words::Runs.text(numbers.sort)}; the audio device plays #{count} lanes.", why: WHY,
          endpoints: beyond.map(&:first).uniq)]
      end

      def played(show, name, song) = Show::PlayingRole.of(show, name, song.id).then { |role| role.slots + role.also.flat_map(&:first) }
      private_class_method :played
    end
  end
end

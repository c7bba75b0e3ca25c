# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Roles of songs that are laid on no output, with what could be done about it: lay them on free lanes, or where there are
    # too few let some share one. Rules `unassigned-role` and `crowded` of the design.
    module Roles
      WHY = "Nobody hears what is on no lane, and the song cannot be played."
      private_constant :WHY

      module_function

      def findings(show)
        missing = show.songs.flat_map { |song| song.role_names.reject { |role| Show::PlayingRole.of(show, role, song.id).heard? }.map { |role| [role, song] } }.group_by(&:first)
        return [] if missing.empty?

        names = missing.keys.sort
        songs = missing.values.flatten(1).map { |_, song| song.title }.uniq
        [Finding.new(rule: "unassigned-role", severity: "stop", step: "tracks", title: "#{capital(names)} #{(names.size == 1) ? "has" : "have"} no output",
          what: "#{capital(names)} #{(names.size == 1) ? "is" : "are"} laid on no lane; #{Words::Runs.names(songs, 3)} would play without.",
          why: WHY, endpoints: names.map { |role| Endpoint.id("songs", "role", role) }, mend: FreeLanes.lay(show, names)),
          *crowded(show, names)]
      end

      # Told where there are not lanes enough for all.
      def crowded(show, names)
        free, wanted = FreeLanes.free_lanes(show), FreeLanes.lane_count(show, names)
        return [] if free.size >= wanted

        shares = Shares.of(show, names)
        said = shares&.together.to_a.map { |roles| Words::Runs.list(roles) }
        [Finding.new(rule: "crowded", severity: "warn", step: "tracks", title: "More roles than lanes",
          what: "#{capital(names)} #{(names.size == 1) ? "wants" : "want"} #{wanted} #{(wanted == 1) ? "lane" : "lanes"}; #{if free.empty?
                                                                                                                              "none is"
                                                                                                                            else
                                                                                                                              "#{free.size} #{(free.size == 1) ? "is" : "are"}"
                                                                                                                            end} free.",
          why: said.empty? ? "No role can share a lane with another: click and cue never go with music." : "Sharing a lane costs least where roles are seldom in one song: #{said.join("; ")}.",
          endpoints: names.map { |role| Endpoint.id("songs", "role", role) }, mend: shares&.mend)]
      end

      def capital(names) = Words::Runs.capital(Words::Runs.names(names))
      private_class_method :crowded, :capital
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Checks
    # A lane that one song has for a role, and on which something else is heard in that song too.
    module SongLanes
      WHY = "Both are heard there, louder than either was meant, and where click or cue is one of them by the wrong people."
      private_constant :WHY

      module_function

      def findings(show) = show.songs.flat_map { |song| of_song(show, song) }

      def of_song(show, song)
        roles = show.set_list[song.id].roles.select { |name, terms| terms.lanes && song.role_names.include?(name) }
        return [] if roles.empty?

        heard = Hash.new { |all, lane| all[lane] = [] }
        song.role_names.each { |name| Show::PlayingRole.of(show, name, song.id).then { |role| [*role.slots, *role.also.flat_map(&:first)].each { |lane| heard[lane] << name } } }
        roles.flat_map { |name, terms| terms.lanes.map { |lane| [name, lane] } }.filter_map do |name, lane|
          others = [*(heard[lane] - [name]), *track(show, lane)]
          clash(show, song, name, lane, others) if others.any?
        end
      end

      # A take that comes back there.
      def track(show, lane) = show.track_at(show.patch.slots[lane]&.from.to_s)&.then { |track| ["track #{track.number} (#{track.name})"] }.to_a

      def clash(show, song, name, lane, others)
        Finding.new(rule: "lane-clash", severity: "warn", step: "tracks", title: "#{Words::Runs.capital(name)} shares #{show.rig.label(lane)} in #{song.title}",
          what: "In #{song.title} #{name} is on #{show.rig.label(lane)}, where #{Words::Runs.names(others)} #{(others.size == 1) ? "is" : "are"} too.", why: WHY, variant: "#{song.id} #{name}",
          endpoints: [lane, Endpoint.id("songs", "role", name)],
          mend: Mend.new(label: "Mend: #{name} where it usually is", edits: [Edits::SetRoleTerms.new(role: name, song: song.id, lanes: nil)]))
      end
      private_class_method :of_song, :track, :clash
    end
  end
end

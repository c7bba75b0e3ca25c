# frozen_string_literal: true

module Loomshuttle
  module Edits
    # How a role is played where a show says otherwise than the library, or with `song` that song of the set list otherwise
    # than the show (Show::Terms). What is left out stays, null is as usual. Lanes are a song's only: a show lays a role by
    # its patch.
    SetRoleTerms = Edit.of("role_terms", role: :id, song: [:id, nil], gain_db: [:number, :kept], fold_db: [:number, :kept], lanes: [:ids, :kept]) do
      def apply(show)
        return refuse("role", role, show.roles.keys.join(", ")) unless show.roles.key?(role)
        return refuse("song", song, "a song of the set list") if song && !show.set_list.key?(song)

        terms = (song ? show.set_list[song].roles[role] : show.role_terms[role]) || Show::Terms.new
        given = to_h.slice(:gain_db, :fold_db, :lanes).reject { |_, value| value == :kept }
        refusal(show, given.compact) || put(show, terms.with(**given))
      end

      private

      def put(show, terms)
        laid = ->(all) { (terms.usual? ? all.except(role) : all.merge(role.freeze => terms)).freeze }
        return show.with(role_terms: laid[show.role_terms]) unless song

        listed = show.set_list[song]
        show.with(set_list: show.set_list.merge(song => listed.with(roles: laid[listed.roles])).freeze)
      end

      def refusal(show, given)
        limits = Show::Terms::GAIN_DB
        return refuse("gain_db", given[:gain_db], "#{limits.min} to #{limits.max} dB") if given[:gain_db] && !limits.cover?(given[:gain_db])
        return refuse("fold_db", given[:fold_db], Show::Role::FOLDS_DB.join(", ")) if given[:fold_db] && !Show::Role::FOLDS_DB.include?(given[:fold_db])

        given[:lanes] && refuse_lanes(show, given[:lanes])
      end

      def refuse_lanes(show, lanes)
        return refuse("lanes", lanes.join(", "), "lanes of one song; lay the role in the patch for all of them") unless song
        return refuse("lanes", lanes.join(", "), "one lane, or two that differ") unless lanes.size.between?(1, Show::Terms::LANES_MAX) && lanes.uniq.size == lanes.size

        wrong = lanes.find { |id| !(show.rig.present?(id) && show.rig.field_of(id)&.takes?("role")) }
        return refuse("lanes", wrong, "a lane out that takes roles") if wrong

        refuse("lanes", lanes.join(", "), "two lanes of one device") if lanes.map { |id| Endpoint.parse(id).device }.uniq.size > 1
      end

      def refuse(field, value, allowed)
        Refusal.new(field: field, value: value, allowed: allowed, why: "For #{role} \"#{value}\" cannot be the #{field.delete_suffix("_db")}: #{allowed}.")
      end
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Edits
    # A mix of roles (Show::Mix): a new one where nobody has its id. What is left out stays; members are given whole.
    SetMix = Edit.of("mix", mix: :id, name: [:text, :kept], members: [:levels, :kept], pair: [:flag, :kept]) do
      def apply(show)
        was = show.mixes[mix] || Show::Mix.new(id: mix, name: "")
        given = to_h.except(:mix).reject { |_, value| value == :kept || value.nil? }
        made = was.with(**given, name: given.fetch(:name, was.name).strip.freeze)
        refusal(show, made) || show.with(mixes: show.mixes.merge(mix.freeze => made).freeze)
      end

      private

      def refusal(show, made)
        most, limits = Show::Mix::NAME_LENGTH_MAX, Show::Mix::LEVEL_DB
        return refuse("mix", mix, "small letters, digits and dashes, up to 60") unless mix.match?(/\A[a-z0-9][a-z0-9-]{0,59}\z/)
        return refuse("mix", mix, "up to #{Show::Mix::COUNT_MAX} mixes") if !show.mixes.key?(mix) && show.mixes.size >= Show::Mix::COUNT_MAX
        return refuse("name", made.name, "a name of 1 to #{most} characters") unless made.name.size.between?(1, most) && !made.name.match?(/[[:cntrl:]]/)
        return refuse("name", made.name, "a name that no other mix has") if show.mixes.any? { |id, other| id != mix && other.name.casecmp?(made.name) }

        stranger = made.members.keys.find { |role| !(role.start_with?("songs/role/") && Signal::Trace.known?(show, role)) }
        return refuse("members", stranger, show.roles.values.map(&:endpoint).join(", ")) if stranger

        role, level_db = made.members.find { |_, level| !limits.cover?(level) }
        refuse("members/#{role}", level_db, "#{limits.min} to #{limits.max} dB") if role
      end

      def refuse(field, value, allowed) = Refusal.new(field: field, value: value, allowed: allowed, why: "A mix cannot have \"#{value}\": #{allowed}.")
    end
  end
end

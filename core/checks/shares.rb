# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Which roles could share lanes where there are too few: those that are seldom in one song. Click and cue are never put
    # with music; they get lanes of their own first.
    #
    #   Shares.of(show, %w[strings choir]).together   # => [["keys", "strings"], ["bass", "choir"]]
    class Shares
      # @return [Shares, nil] nil where even so there are too few
      def self.of(show, names) = new(show, names).then { |shares| shares if shares.possible? }

      # A mix that holds a role already takes another one in.
      Group = Struct.new(:roles, :lanes, :mix)
      private_constant :Group

      def initialize(show, names)
        @show = show
        @songs = show.songs.map(&:role_names)
        @groups = groups
        free = FreeLanes.free_lanes(show)
        apart, music = names.partition { |name| role(name).private? }
        @own = apart.to_h { |name| [name, FreeLanes.taken(free, role(name).with(pair: false))] }
        @possible = @own.values.all?
        # Who is in most songs is given what is free.
        music.sort_by { |name| [-@songs.count { |roles| roles.include?(name) }, name] }.each { |name| place(name, free) }
      end

      def possible? = @possible
      def together = @groups.select { |group| group.roles.size > 1 && group.mix != :there }.map { |group| group.roles.sort }

      # @return [Mend]
      def mend
        Mend.new(label: "Mend: #{Words::Runs.list(together.map { |roles| "#{Words::Runs.list(roles)} on one" })}", edits: @own.flat_map { |name, lanes| FreeLanes.on(lanes, role(name).endpoint) } + @groups.flat_map { |group| edits(group) })
      end

      private

      def role(name) = @show.roles[name] || Show::Role.new(name: name)

      # Music that lies on lanes of its own, alone or as a mix.
      def groups
        roles = @show.roles.values.reject { |role| role.private? }.map { |role| Group.new([role.name], Signal::Returns.own_slots(@show, role.endpoint), nil) }
        mixes = @show.mixes.values.reject { |mix| mix.roles.any? { |name| role(name).private? } }
          .map { |mix| Group.new(mix.roles, Signal::Returns.own_slots(@show, mix.endpoint), :there) }
        (roles + mixes).reject { |group| group.lanes.empty? }
      end

      def place(name, free)
        lanes = FreeLanes.taken(free, role(name)) || FreeLanes.taken(free, role(name).with(pair: false))
        return @groups << Group.new([name], lanes, :new) if lanes

        group = @groups.min_by { |one| [together_count(one.roles, name), one.roles.size, one.roles] } or return @possible = false
        group.mix = (group.mix == :there) ? :grown : group.mix
        group.roles += [name]
      end

      def together_count(roles, name) = @songs.count { |song| song.include?(name) && roles.intersect?(song) }

      def edits(group)
        return (group.mix == :new) ? FreeLanes.on(group.lanes, role(group.roles.first).endpoint) : [] if group.roles.size == 1
        return [] if group.mix == :there

        known = @show.mixes.values.find { |mix| mix.endpoint == @show.patch.slots[group.lanes.first]&.from }
        id = known&.id || free_id(group.roles)
        members = group.roles.to_h { |name| [role(name).endpoint, known&.members&.[](role(name).endpoint) || 0.0] }
        [Edits::SetMix.new(mix: id, name: known&.name || group.roles.join(" + ")[0, Show::Mix::NAME_LENGTH_MAX], members: members, pair: group.lanes.size > 1),
          *(known ? [] : FreeLanes.on(group.lanes, Endpoint.id("songs", "mix", id)))]
      end

      def free_id(roles)
        plain = Words::RoleNames.of(roles.join(" "))[0, 50]
        [plain, *(2..).lazy.map { |number| "#{plain}-#{number}" }.first(Show::Mix::COUNT_MAX)].find { |id| !@show.mixes.key?(id) }
      end
    end
  end
end

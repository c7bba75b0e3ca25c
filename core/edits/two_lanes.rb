# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Two lanes are all there is: click and cue on the left one, all music summed on the right one. Lanes that took roles or
    # mixes of them before take nothing any more; mixes that are laid nowhere then stay.
    TwoLanes = Edit.of("two_lanes", left: :id, right: :id) do
      def apply(show)
        return Refusal.new(field: "right", value: right, allowed: "another lane than the left one", why: "Click and music need two lanes.") if left == right

        bare = show.with(patch: show.patch.with(slots: show.patch.slots.reject { |slot, pick| pick.from.start_with?("songs/") && slot.include?("/lane-out/") }.freeze))
        apart, music = show.roles.values.partition(&:private?)
        Group.new(edits: [*side(show, left, TwoLanes::CLICK, apart), *side(show, right, TwoLanes::MUSIC, music)]).apply(bare)
      end

      private

      # One role is laid itself, several as a mix.
      def side(show, slot, (id, name), roles)
        return roles.map { |role| Connect.new(slot: slot, from: role.endpoint) } if roles.size < 2

        members = roles.to_h { |role| [role.endpoint, show.mixes[id]&.members&.[](role.endpoint) || 0.0] }
        [SetMix.new(mix: id, name: show.mixes[id]&.name || name, members: members.freeze, pair: false), Connect.new(slot: slot, from: Endpoint.id("songs", "mix", id))]
      end
    end

    class TwoLanes
      CLICK = ["click-and-cue", "click and cue"].freeze
      MUSIC = ["music", "music"].freeze
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Where roles go beside the patch's own joins: into mixes of them, and on other lanes in some song of the set list.
    module RoleWays
      module_function

      # @return [Array<Edge>]
      def edges(show) = into_mixes(show) + of_songs(show)

      def into_mixes(show)
        show.mixes.values.flat_map { |mix| mix.members.map { |role, level_db| Edge.join(role, mix.endpoint, :send, nil, level_db) } }
      end

      # Each once, in however many songs.
      def of_songs(show)
        lanes = show.set_list.values.flat_map { |listed| listed.roles.flat_map { |role, terms| terms.lanes.to_a.map { |lane| [Endpoint.id("songs", "role", role), lane] } } }
        lanes.uniq.reject { |role, lane| show.patch.slots[lane]&.from == role }.map { |role, lane| Edge.join(role, lane, :patch) }
      end
      private_class_method :into_mixes, :of_songs
    end
  end
end

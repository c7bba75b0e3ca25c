# frozen_string_literal: true

module Loomshuttle
  module Screens
    # Every role of a show with its lanes and levels, what is otherwise than usual, and in which songs; and mixes of them.
    #
    #   RoleTable.of(show)   # => {roles: [{name:, lanes:, gain_db:, ...}], mixes: [...], lanes: [...]}
    module RoleTable
      module_function

      # @return [Hash] plain data
      def of(show) = {roles: show.roles.values.map { |role| role(show, role) }, mixes: show.mixes.values.map { |mix| mix(show, mix) }, lanes: lanes(show)}

      # Lanes are ids; gain_db, fold_db as they are here, usual_* as the library says, own_* where this show says otherwise.
      def role(show, role)
        playing, own = Show::PlayingRole.of(show, role.name), show.role_terms[role.name]
        {name: role.name, hidden: role.private?, pair: role.pair, songs: show.songs.count { |song| song.role_names.include?(role.name) },
         lanes: playing.slots, gain_db: playing.gain_db, fold_db: playing.fold_db, own_gain_db: own&.gain_db, own_fold_db: own&.fold_db,
         usual_gain_db: role.gain_db, usual_fold_db: role.fold_db, usual_lanes: role.usual,
         mixes: show.mixes.values.select { |mix| mix.members.key?(role.endpoint) }.map(&:id), exceptions: exceptions(show, role)}
      end

      def exceptions(show, role)
        show.songs.filter_map do |song|
          terms = show.set_list[song.id].roles[role.name]
          {song: song.id, title: song.title, gain_db: terms.gain_db, fold_db: terms.fold_db, lanes: terms.lanes} if terms
        end
      end

      def mix(show, mix)
        {id: mix.id, name: mix.name, endpoint: mix.endpoint, pair: mix.pair, lanes: Signal::Returns.own_slots(show, mix.endpoint),
         members: mix.members.transform_keys { |id| Endpoint.number(id).to_s }, heard: Signal::Reach.listeners(show, mix.endpoint).map(&:name)}
      end

      # Those that take roles: what is on each now, and where it goes.
      def lanes(show)
        show.rig.all_of("player", "computer").flat_map { |device| show.places(device, "lane-out") }.select { |id| show.rig.present?(id) && show.rig.field_of(id)&.takes?("role") }
          .map { |id| lane(show, id) }
      end

      def lane(show, id)
        taken = show.patch.slots[id]&.from
        {id: id, number: Endpoint.number(id), device: show.rig.place(id).device.name, takes: taken, takes_label: taken && show.label(taken), leads: leads(show, id)}
      end

      def leads(show, id) = show.graph.fixed_onward(id).last&.then { |place| show.label(place) }
      private_class_method :role, :exceptions, :mix, :lanes, :lane, :leads
    end
  end
end

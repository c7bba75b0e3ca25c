# frozen_string_literal: true

module Loomshuttle
  class Show
    # How a role is played in a show, or in one of its songs: the library says what is usual, the show what is otherwise, the
    # set list what is otherwise for one song.
    #
    #   PlayingRole.of(show, "keys", "low-tide-waltz").gain_db   # => -3.0
    #
    # slots    ids of the lanes out that it is laid on by itself, all of one device
    # gain_db  wherever it goes
    # fold_db  law by which two sides come on one lane
    # also     mixes that carry it: [[slots, level_db]]
    PlayingRole = Value.of(:slots, :gain_db, :fold_db, :also) do
      # @return [Array<Integer>] numbers of the lanes of its own, left and right
      def lanes = slots.map { |id| Endpoint.number(id) }
      def heard? = slots.any? || also.any?
    end

    class PlayingRole
      class << self
        # @param name [String] the role's
        # @param song [String, nil] id of one of the set list
        # @return [PlayingRole]
        def of(show, name, song = nil)
          # Most songs have nothing of their own: a set has thousands of stems, and few roles.
          terms = show.set_list[song]&.roles&.[](name)
          terms ? make(show, name, [terms, show.role_terms[name]].compact) : (show.once(:playing_roles) { {} }[name] ||= make(show, name, [show.role_terms[name]].compact))
        end

        private

        def make(show, name, said)
          role = show.roles[name] || Role.new(name: name)
          new(slots: said.lazy.filter_map(&:lanes).first || laid(show, role.endpoint), gain_db: said.lazy.filter_map(&:gain_db).first || role.gain_db,
            fold_db: said.lazy.filter_map(&:fold_db).first || role.fold_db, also: mixes(show, role.endpoint))
        end

        def laid(show, endpoint) = Signal::Returns.own_slots(show, endpoint).first(Terms::LANES_MAX)

        def mixes(show, endpoint)
          show.mixes.values.filter_map { |mix| [laid(show, mix.endpoint), mix.members[endpoint]] if mix.members.key?(endpoint) }.reject { |slots, _| slots.empty? }
        end
      end
    end
  end
end

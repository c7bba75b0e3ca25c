# frozen_string_literal: true

module Loomshuttle
  class Show
    # A song's place in a set list, with what holds for it on that evening only.
    #
    # song         its id in the library
    # arrangement  name of one of the song's; nil for all of it as it lies
    # after        what happens at its end: the next one stands ready for Go ("go"), begins without a gap ("on") or
    #              after wait_s ("wait"), or nothing is made ready ("stop")
    # talk_s       how long somebody talks behind it; break_s  how long the break behind it is
    # percent      of its own tempo, of those that lie ready; nil for its own
    # trim_db      of all its stems; the click has a level of its own
    # roles        role => Terms, where it is played otherwise than in the rest of the show
    # key, note    whatever whoever plays it must know, such as "D minor" and "capo 2"
    Listed = Value.of(:song, arrangement: nil, after: "go", wait_s: 0, talk_s: 0, break_s: 0, percent: nil, trim_db: 0.0, roles: {}.freeze, key: "", note: "") do
      # @return [Hash] string keys: its song, and what is not as usual
      def to_data
        said = to_h.reject { |name, value| name != :song && value == self.class::USUAL[name] }
        said[:roles] = roles.transform_values(&:to_data) if said.key?(:roles)
        said.transform_keys(&:to_s)
      end

      # @param data [String, Hash] the song's id alone, or string keys
      def self.from_data(data)
        return new(song: data.freeze) if data.is_a?(String)

        new(**data.transform_keys(&:to_sym), roles: data.fetch("roles", {}).transform_values { |terms| Terms.from_data(terms) }.freeze)
      end
    end

    class Listed
      AFTER = %w[go on wait stop].freeze
      WAIT_S = (0..3600)
      # A talk or a break.
      PAUSE_S = (0..4 * 3600)
      TRIM_DB = (-40.0..12.0)
      TEXT_LENGTH_MAX = 200
      USUAL = new(song: nil).to_h.freeze
    end
  end
end

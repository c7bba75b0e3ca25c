# frozen_string_literal: true

module Loomshuttle
  class Show
    # How a role is played, as far as a show says otherwise than the library, or one song of its set list otherwise than the
    # show; what is nil is as usual.
    #
    # gain_db  of the role wherever it goes
    # fold_db  the law by which two sides come on one lane, one of Role::FOLDS_DB
    # lanes    ids of lanes out, of a song alone: what a whole show does with a role is its patch
    Terms = Value.of(gain_db: nil, fold_db: nil, lanes: nil) do
      def usual? = to_h.compact.empty?
      # @return [Hash] string keys
      def to_data = to_h.compact.transform_keys(&:to_s)
      def self.from_data(data) = new(**data.transform_keys(&:to_sym)).then { |terms| terms.lanes ? terms.with(lanes: terms.lanes.freeze) : terms }
    end

    class Terms
      GAIN_DB = (-60.0..12.0)
      LANES_MAX = 2
    end
  end
end

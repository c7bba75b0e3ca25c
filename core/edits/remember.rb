# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Sets what the swing remembers. Always part of a swing's group, never alone.
    Remember = Value.of(:state) do
      def self.from_h(hash)
        home = hash.fetch("home").transform_values { |take| take && Patch::Take.from_h(take) }
        new(state: Soundcheck::State.new(home: home.freeze, opened: hash.fetch("opened").freeze, keep: hash.fetch("keep").freeze))
      end

      def to_data
        {kind: "remember", home: state.home.transform_values { |take| take&.to_h }, opened: state.opened, keep: state.keep}
      end

      def apply(show) = show.with(check: state)
      def inverse(show) = with(state: show.check)
    end
  end
end

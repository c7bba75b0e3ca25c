# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Leaves a finding as it is on purpose (acceptance), or lists it again (nil).
    Accept = Value.of(:key, :acceptance) do
      def self.from_h(hash)
        given = hash["acceptance"]
        new(key: hash.fetch("key"), acceptance: given && Show::Acceptance.new(**given.transform_keys(&:to_sym)))
      end

      def to_data = {kind: "accept", key: key, acceptance: acceptance&.to_h}

      def apply(show) = show.with(accepted: show.accepted.merge(key => acceptance).compact.freeze)
      def inverse(show) = with(acceptance: show.accepted[key])
    end
  end
end

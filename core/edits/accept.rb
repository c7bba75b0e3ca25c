# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Leaves a finding as it is on purpose (acceptance), or lists it again (nil).
    Accept = Edit.of("accept", inside: true, key: :text, acceptance: [:acceptance, nil]) do
      def apply(show) = show.with(accepted: show.accepted.merge(key => acceptance).compact.freeze)
    end
  end
end

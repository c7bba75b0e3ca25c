# frozen_string_literal: true

module Loomshuttle
  module Checks
    # The cure for a finding: what its button says, and the edits that it does as one.
    Mend = Value.of(:label, :edits) do
      def edit = Edits::Group.new(edits: edits)
      def to_data = {label: label}
    end
  end
end

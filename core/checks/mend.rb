# frozen_string_literal: true

module Loomshuttle
  module Checks
    # The cure for a finding: what its button says, and the edits that it does as one. Edits of many
    # places are made when somebody wants them.
    #
    #   Mend.new(label: "Mend: arm it", edits: [Edits::Arm.new(...)])
    #   Mend.new(label: "Mend: send pre-fader", edits: -> { sends.map { ... } })
    Mend = Value.of(:label, :edits) do
      def edits = self[:edits].respond_to?(:call) ? self[:edits].call : self[:edits]
      def edit = Edits::Group.new(edits: edits)
      def to_data = {label: label}
    end
  end
end

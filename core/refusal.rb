# frozen_string_literal: true

module Loomshuttle
  # Why an edit cannot be done: an expected answer, not an error. Edits answer with a new
  # Show or with one of these; `why` is one plain sentence that also says the way out, and `way` an
  # edit that goes it, where one is known.
  Refusal = Value.of(:field, :value, :allowed, :why, way: nil) do
    # The four words of every refusal in their order.
    def self.of(field, value, allowed, why) = new(field: field, value: value, allowed: allowed, why: why)

    def why = self[:why].sub(/\A[a-z]/, &:upcase)

    # @return [Hash] plain data
    def to_data = {field: field, value: value, allowed: allowed, why: why, way: way&.to_data}
  end

  # label  what it does, in words
  # edit   what does it
  Refusal::Way = Value.of(:label, :edit) do
    def to_data = {label: label, edit: edit.to_data}
  end
end

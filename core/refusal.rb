# frozen_string_literal: true

module Loomshuttle
  # Why an edit cannot be done: an expected answer, not an error. Edits answer with a new
  # Show or with one of these; `why` is one plain sentence that also says the way out.
  Refusal = Value.of(:field, :value, :allowed, :why) do
    def why = self[:why].sub(/\A[a-z]/, &:upcase)
  end
end

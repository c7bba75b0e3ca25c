# frozen_string_literal: true

module Loomshuttle
  class Show
    # That somebody left a finding as it is on purpose. It holds while what the finding is
    # about (its digest) stays the same.
    Acceptance = Value.of(:who, :at, :digest, reason: "")
  end
end

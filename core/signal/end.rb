# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Where a way ends and why, in one short phrase.
    End = Value.of(:id, :why)
  end
end

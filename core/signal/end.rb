# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Where a way ends and why, in one short phrase.
    End = Struct.new(:id, :why)
  end
end

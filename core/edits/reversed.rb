# frozen_string_literal: true

module Loomshuttle
  module Edits
    # For edits whose inverse is simply what was there before.
    module Reversed
      def inverse(show) = Put.between(apply(show), show)
    end
  end
end

# frozen_string_literal: true

module Loomshuttle
  module Server
    # Something that is not done without a second word: it would hurt a take that runs. Whoever
    # asks again with `during_take` has been told.
    class Needed < StandardError
    end
  end
end

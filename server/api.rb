# frozen_string_literal: true

module Loomshuttle
  module Server
    # The routes: one resource a file.
    module Api
      # Everything of one show is below it.
      SHOW = "/api/shows/:show"
    end
  end
end

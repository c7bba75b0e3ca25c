# frozen_string_literal: true

require_relative "core"

# Sound in files, as the renderer reads it: shared by the deck, which plays it, and the server,
# which lets a browser listen.
module Loomshuttle
  module Files; end
  load_part("files", Files)
end

# frozen_string_literal: true

require_relative "core"

# What processes share that is no rule of the job: threads that are never lost unseen, lines
# between processes, disks, paths. Knows nothing of sound.
module Loomshuttle
  module Runtime; end
  load_part("runtime", Runtime)
end

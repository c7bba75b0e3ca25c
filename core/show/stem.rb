# frozen_string_literal: true

module Loomshuttle
  class Show
    # One file of a song. `file` is a name inside the song's own folder.
    Stem = Value.of(:name, :role, :file, :sample_rate_hz, :frames)
  end
end
